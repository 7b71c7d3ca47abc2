package dev.admit.server;

import dev.admit.core.mail.Mail;
import dev.admit.core.mail.Mails;
import dev.admit.core.mail.Post;
import java.time.Clock;
import java.util.Properties;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.Semaphore;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.mail.MailException;
import org.springframework.mail.SimpleMailMessage;
import org.springframework.mail.javamail.JavaMailSenderImpl;

/**
 * Sends what is in the outbox by SMTP, one after the other, off the request's way; tried three times, and then the
 * outbox says why it was not sent.
 */
final class SmtpPost implements Post, AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(SmtpPost.class);
    private static final int TRIES = 3;
    private static final String TIMEOUT = "10000";

    private final Mails mails;
    private final Clock clock;
    private final JavaMailSenderImpl sender = new JavaMailSenderImpl();
    private final String from;
    private final ExecutorService one = Executors.newSingleThreadExecutor(
            Thread.ofPlatform().daemon().name("post").factory());
    private final Semaphore waiting = new Semaphore(1_000);

    SmtpPost(SmtpSettings settings, Mails mails, Clock clock) {
        this.mails = mails;
        this.clock = clock;
        this.from = settings.from();
        sender.setHost(settings.host());
        sender.setPort(settings.port());
        sender.setDefaultEncoding("UTF-8");
        settings.user().ifPresent(sender::setUsername);
        settings.password().ifPresent(sender::setPassword);
        Properties properties = sender.getJavaMailProperties();
        for (String phase : new String[] {"connectiontimeout", "timeout", "writetimeout"})
            properties.put("mail.smtp." + phase, TIMEOUT);
        properties.put("mail.smtp.auth", String.valueOf(settings.user().isPresent()));
        properties.put("mail.smtp.starttls.enable", String.valueOf(settings.isEncrypted()));
        properties.put("mail.smtp.starttls.required", String.valueOf(settings.isEncrypted()));
        properties.put("mail.smtp.ssl.checkserveridentity", "true");
    }

    @Override
    public void send(Mail mail) {
        if (!waiting.tryAcquire()) {
            mails.failed(mail.id(), "too many mails waited");
            return;
        }
        try {
            one.execute(() -> {
                try {
                    attempt(mail);
                } finally {
                    waiting.release();
                }
            });
        } catch (RejectedExecutionException stopping) {
            waiting.release();
            mails.failed(mail.id(), "the service was stopping");
        }
    }

    private void attempt(Mail mail) {
        SimpleMailMessage message = new SimpleMailMessage();
        message.setFrom(from);
        message.setTo(mail.to());
        message.setSubject(mail.subject());
        message.setText(mail.body());
        for (int attempt = 1; ; attempt++) {
            try {
                sender.send(message);
                mails.sent(mail.id(), clock.instant());
                return;
            } catch (MailException refused) {
                if (attempt < TRIES) continue;
                LOG.warn(
                        "mail {} could not be sent: {}",
                        mail.id(),
                        refused.getClass().getSimpleName());
                mails.failed(mail.id(), String.valueOf(refused.getMessage()));
                return;
            }
        }
    }

    @Override
    public void close() {
        one.shutdown();
    }
}
