package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.MailView;
import dev.admit.contract.PageView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Actor;
import dev.admit.core.mail.Mail;
import dev.admit.core.mail.Mails;
import dev.admit.core.mail.RevealMail;
import dev.admit.core.registry.Issuer;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The outbox: the mail of the last days, sent or not. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/outbox")
class MailEndpoints {
    private final Mails mails;
    private final RevealMail reveal;
    private final Lookup lookup;

    MailEndpoints(Mails mails, RevealMail reveal, Lookup lookup) {
        this.mails = mails;
        this.reveal = reveal;
        this.lookup = lookup;
    }

    /** The newest first. */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    PageView<MailView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestParam(defaultValue = "") String to) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.page(mails.list(owner.id(), to.strip(), Answers.ask(limit, after)), MailEndpoints::view);
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/{mail}")
    MailView show(@PathVariable String issuer, @PathVariable String mail) {
        return view(mails.find(lookup.issuer(issuer).id(), mail).orElseThrow(Lookup.absent("mail", mail)));
    }

    /** The mail with its code, where no mail server took it. An act of the audit. */
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/{mail}/reveal")
    ResponseEntity<Changed<MailView>> reveal(
            @PathVariable String issuer, @PathVariable String mail, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.changed(
                reveal.reveal(lookup.issuer(issuer), mail, actor),
                it -> 1L,
                (it, notes) -> new Changed<>(view(it), notes));
    }

    private static MailView view(Mail it) {
        return new MailView(
                it.id(),
                it.to(),
                it.subject(),
                it.body(),
                it.writtenAt(),
                it.sentAt().orElse(null),
                it.fault(),
                it.code().isPresent() && it.sentAt().isEmpty());
    }
}
