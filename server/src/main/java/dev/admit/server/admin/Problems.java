package dev.admit.server.admin;

import dev.admit.contract.Problem;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Page;
import dev.admit.store.StoreFault;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.method.annotation.MethodArgumentTypeMismatchException;
import org.springframework.web.servlet.resource.NoResourceFoundException;
import tools.jackson.core.JacksonException;
import tools.jackson.core.exc.StreamReadException;
import tools.jackson.databind.DatabindException;
import tools.jackson.databind.exc.MismatchedInputException;
import tools.jackson.databind.exc.UnrecognizedPropertyException;

/** Turns what goes wrong before or below a use case into problem details. */
@RestControllerAdvice
@Order(Ordered.HIGHEST_PRECEDENCE) // before the one of the framework, whose words are fewer
class Problems {
    private static final Logger LOG = LoggerFactory.getLogger(Problems.class);

    @ExceptionHandler
    ResponseEntity<Problem> refused(Answers.Refused refused) {
        return refused.answer;
    }

    @ExceptionHandler
    ResponseEntity<Problem> cursor(Page.UnknownCursor cursor) {
        return Answers.invalid(List.of(new FieldFault(
                "/after", "the cursor that a page gave as next", "another text", "Start again without it.")));
    }

    @ExceptionHandler
    ResponseEntity<Problem> parameter(MethodArgumentTypeMismatchException mismatch) {
        return Answers.invalid(List.of(new FieldFault(
                "/" + mismatch.getName(),
                "a whole number",
                Fields.quoted(String.valueOf(mismatch.getValue())),
                "Correct it, or leave it out.")));
    }

    @ExceptionHandler
    ResponseEntity<Problem> unreadable(HttpMessageNotReadableException unreadable) {
        return switch (unreadable.getCause()) {
            case UnrecognizedPropertyException unknown ->
                Answers.invalid(List.of(new FieldFault(
                        pointer(unknown),
                        "one of "
                                + String.join(
                                        ", ",
                                        unknown.getKnownPropertyIds().stream()
                                                .map(String::valueOf)
                                                .sorted()
                                                .toList()),
                        "the unknown member " + Fields.quoted(unknown.getPropertyName()),
                        "Check its spelling.")));
            case StreamReadException malformed -> malformed(malformed);
            case MismatchedInputException wrongType ->
                Answers.invalid(List.of(new FieldFault(
                        pointer(wrongType),
                        typeName(wrongType.getTargetType()),
                        "another type of value",
                        "Correct its type.")));
            case DatabindException other -> malformed(other);
            case null, default ->
                Answers.problem(
                        400,
                        "malformed",
                        "The body cannot be read",
                        "a JSON object",
                        "nothing that is one",
                        "Send a JSON object as application/json.",
                        List.of());
        };
    }

    private static ResponseEntity<Problem> malformed(JacksonException malformed) {
        var at = malformed.getLocation();
        String where = at == null ? "" : " at line %d, column %d".formatted(at.getLineNr(), at.getColumnNr());
        return Answers.problem(
                400,
                "malformed",
                "The body cannot be read",
                "JSON",
                "something else" + where,
                "Correct it there.",
                List.of());
    }

    private static String pointer(DatabindException fault) {
        StringBuilder pointer = new StringBuilder();
        for (JacksonException.Reference part : fault.getPath()) {
            pointer.append('/')
                    .append(part.getPropertyName() != null ? part.getPropertyName() : String.valueOf(part.getIndex()));
        }
        return pointer.isEmpty() ? "/" : pointer.toString();
    }

    private static String typeName(Class<?> type) {
        if (type == null) return "another type";
        if (type == String.class) return "text";
        if (type == Boolean.class || type == boolean.class) return "true or false";
        if (Number.class.isAssignableFrom(type)) return "a whole number";
        if (java.util.Collection.class.isAssignableFrom(type)) return "a list";
        return "an object";
    }

    @ExceptionHandler
    ResponseEntity<Problem> nothingHere(NoResourceFoundException nothing) {
        return Answers.problem(
                404,
                "absent",
                "Nothing answers here",
                "an address of this service",
                "another",
                "The admin API is described at /admin/openapi.json; an issuer's metadata names its own addresses.",
                List.of());
    }

    @ExceptionHandler
    ResponseEntity<Problem> store(StoreFault fault) {
        LOG.error("a request met a fault of the store", fault);
        return ResponseEntity.status(503)
                .contentType(MediaType.APPLICATION_PROBLEM_JSON)
                .body(new Problem(
                        "urn:admit:fault:store",
                        "The records cannot be written or read",
                        503,
                        fault.isDiskFull()
                                ? "The disk is full; nothing was changed. Make room: the service goes on by itself."
                                : "The store failed; nothing was changed. The service's log has the cause.",
                        "store",
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null));
    }
}
