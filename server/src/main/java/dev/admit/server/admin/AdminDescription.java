package dev.admit.server.admin;

import io.swagger.v3.oas.models.Components;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.info.Info;
import io.swagger.v3.oas.models.media.Content;
import io.swagger.v3.oas.models.media.MediaType;
import io.swagger.v3.oas.models.media.Schema;
import io.swagger.v3.oas.models.responses.ApiResponse;
import io.swagger.v3.oas.models.security.SecurityRequirement;
import io.swagger.v3.oas.models.security.SecurityScheme;
import org.springdoc.core.customizers.OpenApiCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** What the description of the admin API (OpenAPI 3.1, made from the endpoints themselves) says beside them. */
@Configuration(proxyBeanMethods = false)
class AdminDescription {

    @Bean
    OpenAPI description() {
        return new OpenAPI()
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

    @Bean
    OpenApiCustomizer problemAnswers() {
        return api -> api.getPaths().values().stream()
                .flatMap(path -> path.readOperations().stream())
                .forEach(operation -> operation
                        .getResponses()
                        .addApiResponse(
                                "default",
                                new ApiResponse()
                                        .description("What is wrong, and what to do")
                                        .content(new Content()
                                                .addMediaType(
                                                        "application/problem+json",
                                                        new MediaType().schema(problem())))));
    }

    private static Schema<?> problem() {
        Schema<Object> problem = new Schema<>();
        problem.addType("object");
        for (String text :
                new String[] {"type", "title", "detail", "reason", "expected", "received", "confirm", "decision"}) {
            Schema<Object> string = new Schema<>();
            string.addType("string");
            problem.addProperty(text, string);
        }
        Schema<Object> status = new Schema<>();
        status.addType("integer");
        problem.addProperty("status", status);
        return problem;
    }
}
