package dev.admit.server.pages;

import dev.admit.core.catalogue.Reader;
import dev.admit.core.catalogue.Readers;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.signin.SecondFactor;
import dev.admit.core.signin.SignedIn;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Who reads a page of the catalogue, and as whom. */
@Component
class CatalogueReader {
    private final SecondFactor factor;
    private final Owners owners;
    private final Clients clients;

    CatalogueReader(SecondFactor factor, Owners owners, Clients clients) {
        this.factor = factor;
        this.owners = owners;
        this.clients = clients;
    }

    /**
     * @param person empty for a stranger, and for a person whose second factor is still missing
     * @param as a kind of reader that the person wants to look as
     * @param theirs what the person owns
     */
    record Who(Optional<Person> person, Optional<Readers> as, List<Owner> theirs) {
        /** @param api of which an owner, or a person with an admin role, may see what others see */
        Reader of(Api api) {
            return as.filter(it -> mayEdit(api))
                    .<Reader>map(Reader.Preview::new)
                    .orElseGet(this::self);
        }

        /** Of the whole list, only a person with an admin role sees what named people find. */
        Reader ofAll() {
            boolean runs = person.flatMap(Person::adminRole).isPresent();
            return as.filter(it -> runs || !theirs.isEmpty() && it != Readers.NAMED)
                    .<Reader>map(Reader.Preview::new)
                    .orElseGet(this::self);
        }

        private Reader self() {
            return person.<Reader>map(it -> new Reader.SignedIn(it.id())).orElseGet(Reader.Stranger::new);
        }

        boolean mayEdit(Api api) {
            return person.flatMap(Person::adminRole).isPresent()
                    || theirs.stream().anyMatch(it -> it.owned().equals(Owned.of(api)));
        }

        /** A person with an admin role, or the owner, finds an API that is not published. */
        boolean findsUnpublished(Api api) {
            return as.isEmpty() && mayEdit(api);
        }

        /** What they own stands in their list, published or not. */
        Optional<String> owner() {
            return as.isPresent() ? Optional.empty() : person.map(Person::id);
        }

        List<Owned> clients() {
            return theirs.stream()
                    .map(Owner::owned)
                    .filter(it -> it.kind() == Owned.Kind.CLIENT)
                    .toList();
        }
    }

    /** A client that somebody owns. */
    Optional<Client> client(Issuer issuer, Owned owned) {
        return clients.named(issuer.id(), owned.id());
    }

    Who of(Visit visit) {
        Optional<SignedIn> whole = visit.person().filter(it -> !lacksFactor(visit, it));
        Optional<Readers> as = visit.form().one("as").flatMap(said -> Arrays.stream(Readers.values())
                .filter(it -> it != Readers.NONE && it.toString().equals(said))
                .findFirst());
        return new Who(
                whole.map(SignedIn::person),
                whole.isPresent() ? as : Optional.empty(),
                whole.map(it -> owners.ofPerson(it.person().id())).orElse(List.of()));
    }

    boolean lacksFactor(Visit visit, SignedIn who) {
        return !who.session().hasSecondFactor() && factor.isNeeded(who.person(), visit.issuer());
    }
}
