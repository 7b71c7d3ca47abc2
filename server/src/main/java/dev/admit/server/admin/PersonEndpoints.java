package dev.admit.server.admin;

import dev.admit.contract.AdminRoleChangeView;
import dev.admit.contract.Changed;
import dev.admit.contract.PageView;
import dev.admit.contract.PersonView;
import dev.admit.contract.PersonWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.approval.PersonalApprovals;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.person.Credentials;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Roles;
import dev.admit.core.signin.AdminRoleChange;
import dev.admit.core.signin.OwnAccount;
import dev.admit.core.signin.PersonRegistration;
import dev.admit.core.signin.Sessions;
import dev.admit.core.signin.SignUp;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** The people of an issuer, named by address or id. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/people")
class PersonEndpoints {
    private final People people;
    private final PersonRegistration registration;
    private final OwnAccount account;
    private final SignUp signUp;
    private final Credentials credentials;
    private final Sessions sessions;
    private final PersonalApprovals approvals;
    private final KnownClients clients;
    private final Roles roles;
    private final AuditTrail trail;
    private final Times times;
    private final Lookup lookup;
    private final Clock clock;

    PersonEndpoints(
            People people,
            PersonRegistration registration,
            OwnAccount account,
            SignUp signUp,
            Credentials credentials,
            Sessions sessions,
            PersonalApprovals approvals,
            KnownClients clients,
            Roles roles,
            AuditTrail trail,
            Times times,
            Lookup lookup,
            Clock clock) {
        this.people = people;
        this.registration = registration;
        this.account = account;
        this.signUp = signUp;
        this.credentials = credentials;
        this.sessions = sessions;
        this.approvals = approvals;
        this.clients = clients;
        this.roles = roles;
        this.trail = trail;
        this.times = times;
        this.lookup = lookup;
        this.clock = clock;
    }

    /**
     * @param search part of an address, a name or another field
     * @param role the name of one
     */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    PageView<PersonView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestParam(defaultValue = "") String search,
            @RequestParam(required = false) String role) {
        Issuer owner = lookup.issuer(issuer);
        String roleId = role == null
                ? ""
                : roles.named(owner.id(), role).map(Role::id).orElseThrow(Lookup.absent("role", role));
        return Answers.page(
                people.list(owner.id(), search.strip(), roleId, Answers.ask(limit, after)), it -> view(owner, it));
    }

    /**
     * Whose admin role changed, when and by whom, the newest first.
     *
     * @param since a time, or a length of time ago; 30 days when null
     */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/admin-roles")
    PageView<AdminRoleChangeView> adminRoles(
            @PathVariable String issuer,
            @RequestParam(required = false) String since,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after) {
        Instant from =
                times.ago("/since", since).orElseGet(() -> clock.instant().minus(Duration.ofDays(30)));
        return Answers.page(
                AdminRoleChange.since(trail, lookup.issuer(issuer).id(), from, Answers.ask(limit, after)),
                it -> new AdminRoleChangeView(it.at(), it.email(), it.before(), it.after(), it.by()));
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/{person}")
    ResponseEntity<PersonView> show(@PathVariable String issuer, @PathVariable String person) {
        Issuer owner = lookup.issuer(issuer);
        Person found = people.named(owner.id(), person).orElseThrow(Lookup.absent("person", person));
        return Answers.found(view(owner, found), found.version());
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping
    ResponseEntity<Changed<PersonView>> add(
            @PathVariable String issuer,
            @RequestBody PersonWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Optional<PersonRegistration.ChosenPassword> password =
                Optional.ofNullable(wanted.password()).map(PersonRegistration.ChosenPassword::new);
        Change<Person> added = registration.add(owner, wanted, password, actor);
        if (added instanceof Change.Made<Person> made && password.isEmpty())
            signUp.invite(owner, made.value(), true, clock.instant());
        return Answers.created(
                added,
                Person::version,
                it -> "/admin/issuers/%s/people/%s".formatted(owner.name(), it.id()),
                (it, notes) -> new Changed<>(view(owner, it), notes));
    }

    @Permitted(AdminRole.ADMINISTRATOR)
    @PatchMapping("/{person}")
    ResponseEntity<Changed<PersonView>> change(
            @PathVariable String issuer,
            @PathVariable String person,
            @RequestBody PersonWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return changed(owner, registration.change(owner, person, wanted, Answers.required(ifMatch), actor));
    }

    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/{person}/on")
    ResponseEntity<Changed<PersonView>> on(
            @PathVariable String issuer, @PathVariable String person, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return changed(owner, registration.switchTo(owner, person, true, actor));
    }

    /** From the next request on tokens on their behalf are refused. */
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/{person}/off")
    ResponseEntity<Changed<PersonView>> off(
            @PathVariable String issuer, @PathVariable String person, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return changed(owner, registration.switchTo(owner, person, false, actor));
    }

    /** Signs them out everywhere; tokens on their behalf are refused from the next request on. */
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/{person}/end-sessions")
    ResponseEntity<Changed<PersonView>> endSessions(
            @PathVariable String issuer, @PathVariable String person, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return changed(
                owner,
                account.endSessions(
                        people.named(owner.id(), person).orElseThrow(Lookup.absent("person", person)), actor));
    }

    /** Mails them a code with which they choose another password. */
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/{person}/reset-password")
    ResponseEntity<Changed<PersonView>> resetPassword(@PathVariable String issuer, @PathVariable String person) {
        Issuer owner = lookup.issuer(issuer);
        Person found = people.named(owner.id(), person).orElseThrow(Lookup.absent("person", person));
        signUp.invite(owner, found, credentials.password(found.id()).isEmpty(), clock.instant());
        return changed(owner, Change.made(found));
    }

    /** Takes the second factor away, for a person who lost theirs. */
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/{person}/reset-factor")
    ResponseEntity<Changed<PersonView>> resetFactor(
            @PathVariable String issuer, @PathVariable String person, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return changed(owner, registration.resetFactor(owner, person, actor));
    }

    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(AdminRole.ADMINISTRATOR)
    @DeleteMapping("/{person}")
    ResponseEntity<Void> remove(
            @PathVariable String issuer,
            @PathVariable String person,
            @RequestParam(required = false) String confirm,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.removed(registration.remove(lookup.issuer(issuer), person, confirm, actor));
    }

    private ResponseEntity<Changed<PersonView>> changed(Issuer owner, Change<Person> change) {
        return Answers.changed(change, Person::version, (it, notes) -> new Changed<>(view(owner, it), notes));
    }

    PersonView view(Issuer owner, Person it) {
        List<String> names = it.roles().stream()
                .flatMap(id -> roles.named(owner.id(), id).stream())
                .map(Role::name)
                .toList();
        List<PersonView.SessionView> where = sessions.ofPerson(it.id(), clock.instant()).stream()
                .map(one -> new PersonView.SessionView(
                        one.id(), one.authTime(), one.seenAt(), one.endsAt(), one.from(), one.agent(), one.methods()))
                .toList();
        List<PersonView.Approved> approved = approvals.ofPerson(it.id()).stream()
                .map(one -> new PersonView.Approved(
                        one.clientId(),
                        clients.find(one.clientId())
                                .map(known -> known.client().name())
                                .orElse(""),
                        one.scope(),
                        one.grantedAt()))
                .toList();
        return new PersonView(
                it.id(),
                it.email(),
                it.emailVerified(),
                it.name(),
                it.profile(),
                names,
                it.adminRole().map(Object::toString).orElse(null),
                it.enabled(),
                credentials.password(it.id()).isPresent(),
                credentials.seed(it.id()).isPresent(),
                where,
                approved,
                it.version(),
                it.createdAt());
    }
}
