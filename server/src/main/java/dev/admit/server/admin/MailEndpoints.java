package dev.admit.server.admin;

import dev.admit.contract.MailView;
import dev.admit.contract.PageView;
import dev.admit.core.mail.Mail;
import dev.admit.core.mail.Mails;
import dev.admit.core.registry.Issuer;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The outbox: the mail of the last days, sent or not. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/mails")
class MailEndpoints {
    private final Mails mails;
    private final Lookup lookup;

    MailEndpoints(Mails mails, Lookup lookup) {
        this.mails = mails;
        this.lookup = lookup;
    }

    /** The newest first. */
    @GetMapping PageView<MailView> list(@PathVariable String issuer, @RequestParam(required = false) Integer limit, @RequestParam(required = false) String after, @RequestParam(defaultValue = "") String to) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.page(mails.list(owner.id(), to.strip(), Answers.ask(limit, after)), MailEndpoints::view);
    }

    @GetMapping("/{mail}") MailView show(@PathVariable String issuer, @PathVariable String mail) {
        return view(mails.find(lookup.issuer(issuer).id(), mail).orElseThrow(Lookup.absent("mail", mail)));
    }

    /** Of a mail that a mail server took, the text is the reader's alone: a code that opens an account may be in it. */
    private static MailView view(Mail it) {
        return new MailView(it.id(), it.to(), it.subject(), it.sentAt().isPresent() ? "" : it.body(), it.writtenAt(), it.sentAt().orElse(null), it.fault());
    }
}
