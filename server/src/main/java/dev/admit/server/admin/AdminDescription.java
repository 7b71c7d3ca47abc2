package dev.admit.server.admin;

import dev.admit.contract.Problem;
import dev.admit.server.schema.Directions;
import io.swagger.v3.core.converter.ModelConverters;
import io.swagger.v3.oas.models.Components;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.Operation;
import io.swagger.v3.oas.models.info.Info;
import io.swagger.v3.oas.models.media.Content;
import io.swagger.v3.oas.models.media.MediaType;
import io.swagger.v3.oas.models.media.Schema;
import io.swagger.v3.oas.models.responses.ApiResponse;
import io.swagger.v3.oas.models.security.SecurityRequirement;
import io.swagger.v3.oas.models.security.SecurityScheme;
import io.swagger.v3.oas.models.servers.Server;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.springdoc.core.customizers.OpenApiCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** What the description of the admin API (OpenAPI 3.1, made from the endpoints themselves) says beside them. */
@Configuration(proxyBeanMethods = false)
class AdminDescription {

    @Bean
    OpenAPI description() {
        return new OpenAPI()
                .addServersItem(new Server().url("/")) // else whatever Host a request names
                .info(new Info().title("Admit: admin API").version("0.1.0").description("""
                        Everything that can be registered, approved and looked up. Calls carry an access token of the \
                        operator issuer for the \
                        audience of this API: reading wants admin.read, changing admin.change. Lists page with a \
                        cursor. A change carries the ETag \
                        of what it was made from in If-Match. Errors are problem details (RFC 9457) with a pointer to \
                        each bad field."""))
                .components(new Components()
                        .addSecuritySchemes(
                                "token",
                                new SecurityScheme()
                                        .type(SecurityScheme.Type.HTTP)
                                        .scheme("bearer")
                                        .bearerFormat("JWT")))
                .addSecurityItem(new SecurityRequirement().addList("token"));
    }

    /** What an operation may answer beside what it is for, by what it takes. */
    @Bean
    OpenApiCustomizer problemAnswers() {
        return api -> {
            ModelConverters.getInstance(true).readAll(Problem.class).forEach((name, schema) -> api.getComponents()
                    .addSchemas(name, schema));
            PROBLEMS.forEach((status, what) -> api.getComponents().addResponses(String.valueOf(status), problem(what)));
            api.getPaths()
                    .forEach((path, item) -> item.readOperations().forEach(operation -> addProblems(path, operation)));
            Directions.tell(api);
        };
    }

    private static final Map<Integer, String> PROBLEMS = Map.of(
            400, "The request cannot be read",
            401, "No token, or one that is not good",
            403, "The token, or whom it acts for, may not do this",
            404, "There is no such thing, or none that the caller may see",
            409, "Something stands in the way, or is to be confirmed; would_break says what",
            412, "It was changed since it was read",
            415, "The body is not JSON",
            422, "Some fields cannot be taken; faults names each",
            428, "If-Match is missing",
            500, "A fault in Admit");

    private static ApiResponse problem(String what) {
        return new ApiResponse()
                .description(what)
                .content(new Content()
                        .addMediaType(
                                "application/problem+json",
                                new MediaType().schema(new Schema<>().$ref("#/components/schemas/Problem"))));
    }

    private static void addProblems(String path, Operation operation) {
        boolean hasBody = operation.getRequestBody() != null;
        Set<Integer> problems = new TreeSet<>(Set.of(400, 401, 403, 500));
        if (path.contains("{")) problems.add(404);
        if (hasBody) problems.addAll(Set.of(409, 415, 422));
        if (takes(operation, "If-Match")) problems.addAll(Set.of(412, 428));
        if (takes(operation, "confirm")) problems.add(409);
        problems.forEach(status -> operation
                .getResponses()
                .addApiResponse(String.valueOf(status), new ApiResponse().$ref("#/components/responses/" + status)));
    }

    private static boolean takes(Operation operation, String parameter) {
        return operation.getParameters() != null
                && operation.getParameters().stream().anyMatch(it -> parameter.equals(it.getName()));
    }
}
