package dev.admit.server.admin;

import com.fasterxml.jackson.annotation.JsonProperty;
import dev.admit.core.change.FieldFault;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import org.springframework.core.MethodParameter;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpInputMessage;
import org.springframework.http.converter.HttpMessageConverter;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.servlet.mvc.method.annotation.RequestBodyAdviceAdapter;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Lets a member of a PATCH that is null remove what is there (RFC 7396 §1), where a member that is left out keeps it: a
 * text becomes the empty text, a list an empty one, which the use cases take as nothing. What has no absence, such as a
 * flag, is refused.
 */
@RestControllerAdvice
class NullRemoves extends RequestBodyAdviceAdapter {
    private final JsonMapper json;

    NullRemoves(JsonMapper json) {
        this.json = json;
    }

    @Override
    public boolean supports(
            MethodParameter parameter, Type target, Class<? extends HttpMessageConverter<?>> converter) {
        return parameter.hasMethodAnnotation(PatchMapping.class)
                && parameter.getParameterType().isRecord();
    }

    @Override
    public HttpInputMessage beforeBodyRead(
            HttpInputMessage message,
            MethodParameter parameter,
            Type target,
            Class<? extends HttpMessageConverter<?>> converter)
            throws IOException {
        byte[] body = message.getBody().readAllBytes();
        return new Read(message.getHeaders(), new ByteArrayInputStream(emptied(body, parameter.getParameterType())));
    }

    private byte[] emptied(byte[] body, Class<?> type) {
        JsonNode tree;
        try {
            tree = json.readTree(body);
        } catch (JacksonException malformed) {
            return body; // the converter says what is wrong with it
        }
        if (!(tree instanceof ObjectNode members)) return body;
        empty(members, type, "");
        return json.writeValueAsBytes(members);
    }

    /** @param at where the members stand in the request */
    private void empty(ObjectNode members, Class<?> type, String at) {
        for (RecordComponent component : type.getRecordComponents()) {
            String name = nameOf(component);
            JsonNode value = members.get(name);
            if (value instanceof ObjectNode nested && component.getType().isRecord())
                empty(nested, component.getType(), at + "/" + name);
            else if (value != null && value.isNull()) members.set(name, emptyOf(component.getType(), at + "/" + name));
        }
    }

    private static String nameOf(RecordComponent component) {
        JsonProperty named = component.getAccessor().getAnnotation(JsonProperty.class);
        return named == null || named.value().isEmpty() ? component.getName() : named.value();
    }

    private JsonNode emptyOf(Class<?> type, String name) {
        if (type == String.class) return json.getNodeFactory().stringNode("");
        if (Collection.class.isAssignableFrom(type)) return json.createArrayNode();
        if (type.isRecord()) {
            ObjectNode whole = json.createObjectNode();
            for (RecordComponent component : type.getRecordComponents())
                whole.set(nameOf(component), emptyOf(component.getType(), name));
            return whole;
        }
        boolean pairs = Map.class.isAssignableFrom(type);
        throw new Answers.Refused(Answers.invalid(List.of(
                pairs
                        ? new FieldFault(
                                name, "an object", "null", "Name each pair that is to go, with null as its value.")
                        : new FieldFault(
                                name,
                                "a value, because this member cannot be absent",
                                "null",
                                "Leave it out to keep what is there."))));
    }

    private record Read(HttpHeaders headers, InputStream body) implements HttpInputMessage {
        @Override
        public HttpHeaders getHeaders() {
            return headers;
        }

        @Override
        public InputStream getBody() {
            return body;
        }
    }
}
