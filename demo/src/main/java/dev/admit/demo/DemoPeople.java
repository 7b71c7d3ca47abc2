package dev.admit.demo;

import dev.admit.contract.PersonWanted;
import dev.admit.contract.PublicationWanted;
import dev.admit.core.catalogue.Publish;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.RandomBits;
import dev.admit.core.owner.NameOwners;
import dev.admit.core.owner.Owned;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.person.TimeCode;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.signin.OwnAccount;
import dev.admit.core.signin.PersonRegistration;
import dev.admit.core.signin.SecondFactor;
import dev.admit.server.AuthorizationServer;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * The people of the harbour and of its neighbour, and who runs the whole service. Each start gives them other
 * passwords, which stand in the ready file alone.
 */
final class DemoPeople {
    private static final String[] WORDS = {
        "anchor",
        "beacon",
        "buoy",
        "cable",
        "cormorant",
        "deck",
        "eider",
        "ferry",
        "gannet",
        "harrier",
        "inlet",
        "jetty",
        "keel",
        "lantern",
        "mooring",
        "oar",
        "pilot",
        "plover",
        "quay",
        "rigging",
        "rudder",
        "samphire",
        "shoal",
        "skiff",
        "sluice",
        "tern",
        "tide",
        "wharf",
        "winch",
        "yawl"
    };

    /**
     * @param adminRole at Admit itself, or null
     * @param ownsApi or null
     * @param ownsClient or null
     */
    private record Known(
            String issuer,
            String email,
            String name,
            List<String> roles,
            @Nullable String adminRole,
            Map<String, String> more,
            boolean factor,
            @Nullable String ownsApi,
            @Nullable String ownsClient) {
        Known(
                String issuer,
                String email,
                String name,
                List<String> roles,
                @Nullable String adminRole,
                Map<String, String> more) {
            this(issuer, email, name, roles, adminRole, more, false, null, null);
        }
    }

    private static final List<Known> ALL = List.of(
            new Known("harbour", "corin.ashby@saltmarsh.example", "Corin Ashby", List.of(), "administrator", Map.of()),
            new Known("harbour", "edda.lorne@saltmarsh.example", "Edda Lorne", List.of(), "operator", Map.of()),
            new Known("harbour", "nell.draper@saltmarsh.example", "Nell Draper", List.of(), "auditor", Map.of()),
            new Known(
                    "harbour",
                    "isolde.marrin@saltmarsh.example",
                    "Isolde Marrin",
                    List.of("harbour-master"),
                    null,
                    Map.of("home_quay", "North"),
                    false,
                    "berths",
                    null),
            new Known(
                    "harbour",
                    "tobias.wren@saltmarsh.example",
                    "Tobias Wren",
                    List.of("pilot"),
                    null,
                    Map.of("licence_no", "PL-2041", "home_quay", "Fish Quay")),
            new Known(
                    "harbour",
                    "ama.keld@saltmarsh.example",
                    "Ama Keld",
                    List.of("customs-officer"),
                    null,
                    Map.of("firm", "Saltmarsh Customs"),
                    true,
                    null,
                    null),
            new Known(
                    "harbour",
                    "junia.hale@saltmarsh.example",
                    "Junia Hale",
                    List.of(),
                    null,
                    Map.of(),
                    false,
                    null,
                    "quayside-board"),
            new Known("gullwing", "perrin.voss@gullwing.example", "Perrin Voss", List.of(), null, Map.of()),
            new Known("admit", "corin.ashby@saltmarsh.example", "Corin Ashby", List.of(), "administrator", Map.of()));

    private final AuthorizationServer server;

    DemoPeople(AuthorizationServer server) {
        this.server = server;
    }

    /** Adds those who are not there, and gives everyone a fresh password. */
    List<ReadyFile.OnePerson> prepare() {
        List<ReadyFile.OnePerson> ready = new ArrayList<>();
        for (Known known : ALL)
            server.part(Issuers.class).named(known.issuer()).ifPresent(issuer -> ready.add(prepare(known, issuer)));
        return ready;
    }

    private ReadyFile.OnePerson prepare(Known known, Issuer issuer) {
        PersonRegistration registration = server.part(PersonRegistration.class);
        String password = password();
        PersonRegistration.ChosenPassword chosen = new PersonRegistration.ChosenPassword(password);
        Optional<Person> before = server.part(People.class).named(issuer.id(), known.email());
        Map<String, String> profile = new java.util.HashMap<>(known.more());
        profile.put("name", known.name());
        Person person = made(
                before.isPresent()
                        ? server.part(OwnAccount.class).setPassword(issuer, before.get(), chosen, Actor.ADMIT)
                        : registration.add(
                                issuer,
                                new PersonWanted(known.email(), profile, known.roles(), known.adminRole()),
                                Optional.of(chosen),
                                Actor.ADMIT));
        if (before.isEmpty()) {
            nameOwner(known, issuer, person);
            if (known.roles().contains("customs-officer")) showManifests(issuer, person);
        }
        @Nullable String seed = null;
        if (known.factor()) {
            byte[] fresh = TimeCode.newSeed();
            server.part(SecondFactor.class).put(person, fresh);
            seed = TimeCode.base32(fresh);
        }
        return new ReadyFile.OnePerson(known.issuer(), known.email(), password, seed, known.roles());
    }

    private void nameOwner(Known known, Issuer issuer, Person person) {
        Optional<Owned> api = Optional.ofNullable(known.ownsApi())
                .flatMap(it -> server.part(Apis.class).named(issuer.id(), it))
                .map(Owned::of);
        Optional<Owned> client = Optional.ofNullable(known.ownsClient())
                .flatMap(it -> server.part(Clients.class).named(issuer.id(), it))
                .map(Owned::of);
        Stream.concat(api.stream(), client.stream())
                .forEach(owned -> made(server.part(NameOwners.class).name(issuer, person.id(), owned, Actor.ADMIT)));
    }

    /** The manifests stand in the catalogue for customs officers alone. */
    private void showManifests(Issuer issuer, Person officer) {
        Api manifests = server.part(Apis.class).named(issuer.id(), "manifests").orElseThrow();
        made(server.part(Publish.class)
                .change(
                        issuer,
                        manifests,
                        new PublicationWanted(
                                "named",
                                List.of(officer.id()),
                                "Cargo lists of every voyage, for the firms that carry the cargo and for customs.",
                                null,
                                null),
                        Expected.ANY,
                        Actor.ADMIT));
    }

    private static String password() {
        StringBuilder password = new StringBuilder();
        for (int i = 0; i < 4; i++) password.append(i == 0 ? "" : "-").append(WORDS[RandomBits.below(WORDS.length)]);
        return password.toString();
    }

    private static <T> T made(Change<T> change) {
        if (change instanceof Change.Made<T> made) return made.value();
        throw new IllegalStateException("the demo's people came to " + change);
    }
}
