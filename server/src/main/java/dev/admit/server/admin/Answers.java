package dev.admit.server.admin;

import dev.admit.contract.FaultView;
import dev.admit.contract.FixView;
import dev.admit.contract.PageView;
import dev.admit.contract.Problem;
import dev.admit.contract.StepsView;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Page;
import dev.admit.core.decision.Command;
import dev.admit.core.decision.Refusal;
import dev.admit.core.trust.FindKeys;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Function;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.context.request.RequestContextHolder;
import org.springframework.web.context.request.ServletRequestAttributes;
import org.springframework.web.servlet.HandlerMapping;

/** Turns outcomes of the core into answers of the admin API, and its conditions and cursors into the core's. */
final class Answers {
    static final int USUAL_PAGE = 50;

    private Answers() {}

    /** An answer that has been decided on before the call could be made: a refusal as problem details. */
    static final class Refused extends RuntimeException {
        final transient ResponseEntity<Problem> answer;

        Refused(ResponseEntity<Problem> answer) {
            super("refused", null, false, false);
            this.answer = answer;
        }
    }

    /** 200 with the thing and its ETag, or the problem. */
    static <T, V> ResponseEntity<V> changed(
            Change<T> change, Function<T, Long> version, BiFunction<T, List<String>, V> view) {
        return answer(change, made -> ResponseEntity.ok()
                .eTag(etag(version.apply(made.value())))
                .body(view.apply(made.value(), notes(made))));
    }

    private static List<String> notes(Change.Made<?> made) {
        String issuer = issuer();
        return made.notes().stream().map(it -> Command.at(issuer, it)).toList();
    }

    /** 200 with what would be, where nothing was written, or the problem. */
    static <T, V> ResponseEntity<V> shown(Change<T> change, Function<T, V> view) {
        return answer(change, made -> ResponseEntity.ok(view.apply(made.value())));
    }

    /** 201 with the thing, its ETag and where it is, or the problem. */
    static <T, V> ResponseEntity<V> created(
            Change<T> change,
            Function<T, Long> version,
            Function<T, String> path,
            BiFunction<T, List<String>, V> view) {
        return answer(change, made -> ResponseEntity.created(URI.create(path.apply(made.value())))
                .eTag(etag(version.apply(made.value())))
                .body(view.apply(made.value(), notes(made))));
    }

    /** 204, or the problem. */
    static <T> ResponseEntity<Void> removed(Change<T> change) {
        return answer(change, made -> ResponseEntity.noContent().build());
    }

    static StepsView steps(List<FindKeys.Step> steps) {
        return new StepsView(
                steps.stream().allMatch(FindKeys.Step::good),
                steps.stream()
                        .map(it -> new StepsView.Step(it.step(), it.good(), it.said()))
                        .toList());
    }

    static <T> ResponseEntity<T> found(T view, long version) {
        return ResponseEntity.ok().eTag(etag(version)).body(view);
    }

    private static <T, V> ResponseEntity<V> answer(
            Change<T> change, Function<Change.Made<T>, ResponseEntity<V>> whenMade) {
        return switch (change) {
            case Change.Made<T> made -> whenMade.apply(made);
            case Change.Invalid<T>(List<FieldFault> faults) -> instead(invalid(faults));
            case Change.Taken<T>(FieldFault fault) ->
                instead(problem(
                        409,
                        "taken",
                        "It is there already",
                        fault.expected(),
                        fault.received(),
                        fault.fix(),
                        List.of(fault)));
            case Change.Absent<T>(String kind, String named) -> instead(absent(kind, named));
            case Change.Stale<T>(long current, long received) ->
                instead(problem(
                        412,
                        "stale",
                        "Another person changed it",
                        "version " + received,
                        "version " + current,
                        "Read it again, and make the change from what it is now.",
                        List.of()));
            case Change.NeedsConfirmation<T>(String word, String what, List<String> wouldBreak) ->
                instead(confirmation(word, what, wouldBreak));
            case Change.Forbidden<T> forbidden -> instead(forbidden(forbidden.who(), forbidden.what()));
            case Change.Refused<T>(String sentence, String fix) ->
                instead(body(
                        409,
                        new Problem(
                                "urn:admit:problem:rule",
                                "Refused by a rule",
                                409,
                                sentence + " " + Command.at(issuer(), fix),
                                "rule",
                                null,
                                null,
                                new FixView(Command.at(issuer(), fix), null, null, null),
                                null,
                                null,
                                null,
                                null)));
        };
    }

    static ResponseEntity<Problem> forbidden(String who, String what) {
        return problem(
                403,
                "admin-role-too-low",
                "Refused by a rule",
                "one of the " + who,
                "another person",
                "Only %s may %s. Ask one of them.".formatted(who, what),
                List.of());
    }

    /**
     * A body is written by what it is; what a method declares is the answer when all went well, for the API's
     * description.
     */
    @SuppressWarnings("unchecked")
    private static <V> ResponseEntity<V> instead(ResponseEntity<?> problem) {
        return (ResponseEntity<V>) problem;
    }

    static ResponseEntity<Problem> invalid(List<FieldFault> faults) {
        FieldFault first = faults.getFirst();
        return problem(
                422, "invalid", "Some fields cannot be taken", first.expected(), first.received(), first.fix(), faults);
    }

    /** A check refused what was wanted; its decision says the rest. */
    static ResponseEntity<Problem> refusal(Refusal it, String decision) {
        String issuer = issuer();
        FixView fix = Views.fix(
                it.fix().action().map(action -> it.fix().by(action.at(issuer))).orElse(it.fix()));
        int status = it.reason().status() == 403 ? 403 : 409;
        return body(
                status,
                new Problem(
                        "urn:admit:problem:" + it.reason(),
                        "Refused by a rule",
                        status,
                        it.sentence(),
                        it.reason().toString(),
                        it.expected(),
                        it.received(),
                        fix,
                        null,
                        null,
                        null,
                        decision));
    }

    static ResponseEntity<Problem> absent(String kind, String named) {
        return problem(
                404,
                "absent",
                "There is no such " + kind,
                "the name or id of " + article(kind),
                Fields.quoted(named),
                "List what is there.",
                List.of());
    }

    private static String article(String kind) {
        return ("aeiouA".indexOf(kind.charAt(0)) >= 0 ? "an " : "a ") + kind;
    }

    private static ResponseEntity<Problem> confirmation(String word, String what, List<String> wouldBreak) {
        String sentence = "%s Say confirm=%s to go on.".formatted(what, word);
        return body(
                409,
                new Problem(
                        "urn:admit:problem:needs-confirmation",
                        "It wants a word of confirmation",
                        409,
                        sentence,
                        "needs-confirmation",
                        null,
                        null,
                        new FixView(sentence, null, null, null),
                        null,
                        wouldBreak,
                        word,
                        null));
    }

    static ResponseEntity<Problem> problem(
            int status,
            String reason,
            String title,
            String expected,
            String received,
            String fix,
            List<FieldFault> faults) {
        String issuer = issuer();
        List<FaultView> views = faults.stream()
                .map(it -> new FaultView(it.pointer(), it.expected(), it.received(), Command.at(issuer, it.fix())))
                .toList();
        return told(status, reason, title, expected, received, Command.at(issuer, fix), views);
    }

    /** The issuer that the request's address names, so that each command in an answer names it; empty for none. */
    static String issuer() {
        return RequestContextHolder.getRequestAttributes() instanceof ServletRequestAttributes now
                        && now.getRequest().getAttribute(HandlerMapping.URI_TEMPLATE_VARIABLES_ATTRIBUTE)
                                instanceof Map<?, ?> named
                        && named.get("issuer") instanceof String issuer
                ? issuer
                : "";
    }

    private static ResponseEntity<Problem> told(
            int status,
            String reason,
            String title,
            String expected,
            String received,
            String fix,
            List<FaultView> views) {
        String where = views.size() == 1 ? " at " + views.getFirst().pointer() : "";
        return body(
                status,
                new Problem(
                        "urn:admit:problem:" + reason,
                        title,
                        status,
                        "Expected %s%s; received %s. %s".formatted(expected, where, received, fix),
                        reason,
                        expected,
                        received,
                        new FixView(fix, null, null, null),
                        views.isEmpty() ? null : views,
                        null,
                        null,
                        null));
    }

    private static ResponseEntity<Problem> body(int status, Problem problem) {
        return ResponseEntity.status(status)
                .contentType(MediaType.APPLICATION_PROBLEM_JSON)
                .body(problem);
    }

    private static String etag(long version) {
        return "\"" + version + "\"";
    }

    /**
     * The condition of a change. A change without one could overwrite another's unseen, so it is requested (RFC 6585
     * §3).
     */
    static Expected required(String ifMatch) {
        if (ifMatch == null) {
            throw new Refused(problem(
                    428,
                    "no-condition",
                    "The change wants a condition",
                    "a header If-Match with the ETag of what was read, or *",
                    "none",
                    "Read it, and send its ETag back.",
                    List.of()));
        }
        return optional(ifMatch);
    }

    /** The condition of a removal, which may be left out. */
    static Expected optional(String ifMatch) {
        if (ifMatch == null || ifMatch.strip().equals("*")) return Expected.ANY;
        try {
            return Expected.version(Long.parseLong(ifMatch.strip().replaceAll("^\"|\"$", "")));
        } catch (NumberFormatException notOurs) {
            throw new Refused(problem(
                    412,
                    "stale",
                    "Another person changed it",
                    "an ETag of this service",
                    Fields.quoted(ifMatch),
                    "Read it again, and send its ETag back.",
                    List.of()));
        }
    }

    static Page.Ask ask(Integer limit, String after) {
        int size = limit == null ? USUAL_PAGE : limit;
        if (size < 1 || size > Page.Ask.MOST) {
            throw new Refused(invalid(List.of(new FieldFault(
                    "/limit", "1 to " + Page.Ask.MOST, String.valueOf(size), "Choose a size in between."))));
        }
        return new Page.Ask(
                Optional.ofNullable(after).filter(it -> !it.isEmpty()).map(Answers::decode), size);
    }

    static <T, V> PageView<V> page(Page<T> page, Function<T, V> view) {
        return new PageView<>(
                page.items().stream().map(view).toList(),
                page.next().map(Answers::encode).orElse(null));
    }

    private static String encode(String cursor) {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(cursor.getBytes(StandardCharsets.UTF_8));
    }

    private static String decode(String cursor) {
        try {
            return new String(Base64.getUrlDecoder().decode(cursor), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException notOurs) {
            throw new Page.UnknownCursor(cursor);
        }
    }
}
