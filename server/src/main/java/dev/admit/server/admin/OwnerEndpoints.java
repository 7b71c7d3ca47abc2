package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.HandOverWanted;
import dev.admit.contract.OwnerView;
import dev.admit.contract.OwnerWanted;
import dev.admit.contract.PageView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Actor;
import dev.admit.core.change.FieldFault;
import dev.admit.core.owner.NameOwners;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Issuer;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Who answers for which API and which client. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/owners")
class OwnerEndpoints {
    private final Owners owners;
    private final NameOwners naming;
    private final People people;
    private final Lookup lookup;

    OwnerEndpoints(Owners owners, NameOwners naming, People people, Lookup lookup) {
        this.owners = owners;
        this.naming = naming;
        this.people = people;
        this.lookup = lookup;
    }

    /** Those of one API or one client, or what one person answers for, or all. */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    PageView<OwnerView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) String person,
            @RequestParam(required = false) String api,
            @RequestParam(required = false) String client,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after) {
        Issuer its = lookup.issuer(issuer);
        if (api != null || client != null)
            return new PageView<>(
                    owners.of(owned(its, api, client)).stream()
                            .map(OwnerEndpoints::view)
                            .toList(),
                    null);
        String personId = person == null
                ? ""
                : people.named(its.id(), person).map(Person::id).orElseThrow(Lookup.absent("person", person));
        return Answers.page(owners.list(its.id(), personId, Answers.ask(limit, after)), OwnerEndpoints::view);
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping
    ResponseEntity<Changed<OwnerView>> name(
            @PathVariable String issuer,
            @RequestBody OwnerWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return Answers.created(
                naming.name(
                        its,
                        wanted.person() == null ? "" : wanted.person(),
                        owned(its, wanted.api(), wanted.client()),
                        actor),
                owner -> 1L,
                owner -> "/admin/issuers/%s/owners".formatted(its.name()),
                (owner, notes) -> new Changed<>(view(owner), notes));
    }

    @Permitted(AdminRole.ADMINISTRATOR)
    @DeleteMapping
    ResponseEntity<Changed<OwnerView>> release(
            @PathVariable String issuer,
            @RequestParam String person,
            @RequestParam(required = false) String api,
            @RequestParam(required = false) String client,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        return Answers.changed(
                naming.release(its, person, owned(its, api, client), actor),
                owner -> 1L,
                (owner, notes) -> new Changed<>(view(owner), notes));
    }

    /** All that one person answers for goes over to another. */
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/hand-over")
    ResponseEntity<Changed<List<OwnerView>>> handOver(
            @PathVariable String issuer,
            @RequestBody HandOverWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.changed(
                naming.handOver(lookup.issuer(issuer), wanted.from(), wanted.to(), actor),
                handed -> 1L,
                (handed, notes) ->
                        new Changed<>(handed.stream().map(OwnerEndpoints::view).toList(), notes));
    }

    private Owned owned(Issuer its, @Nullable String api, @Nullable String client) {
        if ((api == null) == (client == null)) {
            throw new Answers.Refused(Answers.invalid(List.of(new FieldFault(
                    "/", "an API or a client", api == null ? "neither" : "both", "Say which one is meant."))));
        }
        if (client != null) return Owned.of(lookup.client(its, client));
        return Owned.of(lookup.apiToChange(its, String.valueOf(api)));
    }

    private static OwnerView view(Owner it) {
        return new OwnerView(
                it.personId(),
                it.email(),
                it.owned().kind().toString(),
                it.owned().name(),
                it.since(),
                it.namedBy());
    }
}
