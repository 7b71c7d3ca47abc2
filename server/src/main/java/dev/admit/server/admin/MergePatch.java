package dev.admit.server.admin;

import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpInputMessage;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.stereotype.Component;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** Applies a JSON merge patch (RFC 7396 §2): what the patch does not name stays, and a member that is null goes. */
@Component
class MergePatch {
    private final JsonMapper json;

    MergePatch(JsonMapper json) {
        this.json = json;
    }

    /**
     * @param now what is there
     * @param patch as it was sent
     * @return what is wanted from now on
     * @throws HttpMessageNotReadableException when the result is none of the type, as for a body that cannot be read
     */
    @SuppressWarnings("NullAway") // the input message may be null
    <T> T applied(T now, JsonNode patch, Class<T> type) {
        if (!patch.isObject()) throw new HttpMessageNotReadableException("not an object", (HttpInputMessage) null);
        JsonNode merged = merged(json.valueToTree(now), patch);
        try {
            return json.treeToValue(merged, type);
        } catch (JacksonException fault) {
            throw new HttpMessageNotReadableException("not readable", fault, (HttpInputMessage) null);
        }
    }

    /**
     * The same for a member that holds pairs.
     *
     * @param patch null for as they are; a value that is null removes its pair
     * @return null for as they are
     */
    static @Nullable Map<String, String> pairs(@Nullable Map<String, String> now, @Nullable Map<String, String> patch) {
        if (patch == null) return null;
        Map<String, String> merged = new LinkedHashMap<>(now == null ? Map.of() : now);
        patch.forEach((name, value) -> {
            if (value == null) merged.remove(name);
            else merged.put(name, value);
        });
        return merged;
    }

    private JsonNode merged(JsonNode target, JsonNode patch) {
        if (!(patch instanceof ObjectNode members)) return patch;
        ObjectNode merged = target instanceof ObjectNode there ? there : json.createObjectNode();
        for (Map.Entry<String, JsonNode> member : members.properties()) {
            if (member.getValue().isNull()) merged.remove(member.getKey());
            else merged.set(member.getKey(), merged(merged.path(member.getKey()), member.getValue()));
        }
        return merged;
    }
}
