package dev.admit.server;

import org.eclipse.jetty.server.HttpConnectionFactory;
import org.springframework.boot.jackson.autoconfigure.JsonMapperBuilderCustomizer;
import org.springframework.boot.jetty.servlet.JettyServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.MapperFeature;
import tools.jackson.databind.cfg.CoercionAction;
import tools.jackson.databind.cfg.CoercionInputShape;
import tools.jackson.databind.type.LogicalType;

/** How the authority's port speaks HTTP and JSON. */
@Configuration
class WebSettings {

    @Bean WebServerFactoryCustomizer<JettyServletWebServerFactory> jetty() {
        return factory -> factory.addServerCustomizers(server -> {
            for (var connector : server.getConnectors()) {
                connector.getConnectionFactories().stream().filter(HttpConnectionFactory.class::isInstance)
                        .map(it -> ((HttpConnectionFactory) it).getHttpConfiguration()).forEach(http -> http.setSendServerVersion(false));
            }
        });
    }

    /** What is misspelt, doubled or of another type is told, never guessed at. */
    @Bean JsonMapperBuilderCustomizer strictJson() {
        return builder -> {
            builder.enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES, DeserializationFeature.FAIL_ON_TRAILING_TOKENS);
            builder.enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION);
            builder.disable(MapperFeature.ALLOW_COERCION_OF_SCALARS);
            builder.withCoercionConfig(LogicalType.Textual, textual -> {
                for (CoercionInputShape shape : new CoercionInputShape[] {CoercionInputShape.Integer, CoercionInputShape.Float, CoercionInputShape.Boolean}) {
                    textual.setCoercion(shape, CoercionAction.Fail);
                }
            });
        };
    }
}
