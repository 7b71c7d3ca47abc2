package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.KeyView;
import dev.admit.contract.KeyWanted;
import dev.admit.contract.PageView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Actor;
import dev.admit.core.key.KeySpan;
import dev.admit.core.registration.KeyRegistration;
import java.time.Clock;
import java.time.Instant;
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

/** The signing keys of an issuer. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/keys")
class KeyEndpoints {
    private final KeyRegistration keys;
    private final Lookup lookup;
    private final Clock clock;

    KeyEndpoints(KeyRegistration keys, Lookup lookup, Clock clock) {
        this.keys = keys;
        this.lookup = lookup;
        this.clock = clock;
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    PageView<KeyView> list(@PathVariable String issuer) {
        return new PageView<>(
                keys.of(lookup.issuer(issuer)).stream().map(this::view).toList(), null);
    }

    /** Brings in the next key: made here or imported; published at once, signing later. */
    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.OPERATOR)
    @PostMapping
    ResponseEntity<Changed<KeyView>> rotate(
            @PathVariable String issuer,
            @RequestBody KeyWanted wanted,
            @RequestParam(required = false) String confirm,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.created(
                keys.rotate(lookup.issuer(issuer), wanted, actor, confirm),
                key -> 1L,
                key -> "/admin/issuers/%s/keys".formatted(issuer),
                (key, notes) -> new Changed<>(view(key), notes));
    }

    /** Takes a key out: what it signed is refused from the next request on. */
    @Permitted(AdminRole.ADMINISTRATOR)
    @DeleteMapping("/{kid}")
    ResponseEntity<Changed<KeyView>> remove(
            @PathVariable String issuer,
            @PathVariable String kid,
            @RequestParam(required = false) String confirm,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.changed(
                keys.remove(lookup.issuer(issuer), kid, actor, confirm),
                key -> 1L,
                (key, notes) -> new Changed<>(view(key), notes));
    }

    private KeyView view(KeySpan it) {
        return new KeyView(
                it.kid(),
                it.purpose().toString(),
                it.algorithm(),
                it.stateAt(clock.instant()).toString(),
                it.imported(),
                it.createdAt(),
                it.signsFrom(),
                orNull(it.signsUntil()),
                orNull(it.verifiesUntil()),
                it.removedAt().orElse(null));
    }

    private static @Nullable Instant orNull(Instant time) {
        return time.equals(Instant.MAX) ? null : time;
    }
}
