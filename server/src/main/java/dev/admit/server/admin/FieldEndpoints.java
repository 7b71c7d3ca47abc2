package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.FieldView;
import dev.admit.contract.FieldWanted;
import dev.admit.contract.PageView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Actor;
import dev.admit.core.person.ProfileField;
import dev.admit.core.signin.FieldRegistration;
import dev.admit.core.signin.ProfileReading;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** What people of an issuer have in their profiles. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/profile-fields")
class FieldEndpoints {
    private final ProfileReading profiles;
    private final FieldRegistration registration;
    private final Lookup lookup;

    FieldEndpoints(ProfileReading profiles, FieldRegistration registration, Lookup lookup) {
        this.profiles = profiles;
        this.registration = registration;
        this.lookup = lookup;
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    PageView<FieldView> list(@PathVariable String issuer) {
        return new PageView<>(
                profiles.fieldsOf(lookup.issuer(issuer)).stream()
                        .map(FieldEndpoints::view)
                        .toList(),
                null);
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping
    ResponseEntity<Changed<FieldView>> add(
            @PathVariable String issuer,
            @RequestBody FieldWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.created(
                registration.add(lookup.issuer(issuer), wanted, actor),
                ProfileField::version,
                it -> "/admin/issuers/%s/profile-fields".formatted(issuer),
                (it, notes) -> new Changed<>(view(it), notes));
    }

    @Permitted(AdminRole.ADMINISTRATOR)
    @PatchMapping("/{field}")
    ResponseEntity<Changed<FieldView>> change(
            @PathVariable String issuer,
            @PathVariable String field,
            @RequestBody FieldWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.changed(
                registration.change(lookup.issuer(issuer), field, wanted, actor),
                ProfileField::version,
                (it, notes) -> new Changed<>(view(it), notes));
    }

    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(AdminRole.ADMINISTRATOR)
    @DeleteMapping("/{field}")
    ResponseEntity<Void> remove(
            @PathVariable String issuer, @PathVariable String field, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.removed(registration.remove(lookup.issuer(issuer), field, actor));
    }

    private static FieldView view(ProfileField it) {
        return new FieldView(
                it.name(),
                it.title(),
                it.type().toString(),
                it.choices(),
                it.pattern().orElse(null),
                it.atSignUp(),
                it.editable(),
                it.claim().orElse(null),
                it.onProfilePage(),
                it.isStandard(),
                it.version());
    }
}
