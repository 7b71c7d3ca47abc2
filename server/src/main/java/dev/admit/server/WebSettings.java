package dev.admit.server;

import dev.admit.gateway.StrictHttp;
import dev.admit.gateway.TrustedProxies;
import jakarta.servlet.Filter;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.SecureRequestCustomizer;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.server.SslConnectionFactory;
import org.springframework.boot.jackson.autoconfigure.JsonMapperBuilderCustomizer;
import org.springframework.boot.jetty.servlet.JettyServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.boot.web.servlet.FilterRegistrationBean;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.Ordered;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.MapperFeature;
import tools.jackson.databind.cfg.CoercionAction;
import tools.jackson.databind.cfg.CoercionInputShape;
import tools.jackson.databind.type.LogicalType;

/** How the authorization server's port speaks HTTP and JSON. */
@Configuration(proxyBeanMethods = false)
class WebSettings {

    @Bean
    WebServerFactoryCustomizer<JettyServletWebServerFactory> jetty(AuthorizationServer.Opened opened) {
        return factory -> factory.addServerCustomizers(server -> {
            for (var connector : server.getConnectors()) {
                ServerConnector plain = (ServerConnector) connector;
                plain.setConnectionFactories(List.of(new StrictHttp(
                        plain.getConnectionFactory(HttpConnectionFactory.class).getHttpConfiguration())));
            }
            opened.tls().ifPresent(tls -> encrypt(server, tls));
        });
    }

    /** The same connectors, behind TLS. */
    private static void encrypt(Server server, TlsFiles tls) {
        List<ServerConnector> encrypted = new ArrayList<>();
        for (var connector : server.getConnectors()) {
            ServerConnector plain = (ServerConnector) connector;
            HttpConfiguration http = new HttpConfiguration(
                    plain.getConnectionFactory(HttpConnectionFactory.class).getHttpConfiguration());
            http.addCustomizer(new SecureRequestCustomizer(false));
            ServerConnector secure = new ServerConnector(
                    server, new SslConnectionFactory(tls.factory(), "http/1.1"), new StrictHttp(http));
            secure.setHost(plain.getHost());
            secure.setPort(plain.getPort());
            secure.setIdleTimeout(plain.getIdleTimeout());
            encrypted.add(secure);
        }
        server.setConnectors(encrypted.toArray(ServerConnector[]::new));
    }

    /** TRACE would say to a page what the browser sent, cookies included (RFC 9110 §9.3.8). */
    @Bean
    FilterRegistrationBean<Filter> noTrace() {
        FilterRegistrationBean<Filter> filter = new FilterRegistrationBean<>((request, response, chain) -> {
            if (!((HttpServletRequest) request).getMethod().equals("TRACE")) {
                chain.doFilter(request, response);
                return;
            }
            ((HttpServletResponse) response).setStatus(HttpServletResponse.SC_METHOD_NOT_ALLOWED);
            ((HttpServletResponse) response).setHeader("Allow", "GET, HEAD, POST, PUT, PATCH, DELETE, OPTIONS");
        });
        filter.setOrder(Ordered.HIGHEST_PRECEDENCE);
        return filter;
    }

    /** The caller's address, as a trusted proxy tells it; of nobody else a word about it is taken. */
    @Bean
    FilterRegistrationBean<Filter> callersAddress(AuthorizationServer.Opened opened) {
        TrustedProxies proxies = TrustedProxies.of(opened.settings().trustedProxies());
        FilterRegistrationBean<Filter> filter = new FilterRegistrationBean<>((request, response, chain) -> {
            HttpServletRequest http = (HttpServletRequest) request;
            String peer = http.getRemoteAddr();
            String caller =
                    proxies.caller(peer, String.join(",", Collections.list(http.getHeaders("X-Forwarded-For"))));
            chain.doFilter(
                    caller.equals(peer)
                            ? request
                            : new HttpServletRequestWrapper(http) {
                                @Override
                                public String getRemoteAddr() {
                                    return caller;
                                }
                            },
                    response);
        });
        filter.setOrder(Ordered.HIGHEST_PRECEDENCE);
        return filter;
    }

    /** What is misspelt, doubled or of another type is told, never guessed at. */
    @Bean
    JsonMapperBuilderCustomizer strictJson() {
        return builder -> {
            builder.enable(
                    DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES, DeserializationFeature.FAIL_ON_TRAILING_TOKENS);
            builder.enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION);
            builder.disable(MapperFeature.ALLOW_COERCION_OF_SCALARS);
            builder.withCoercionConfig(LogicalType.Textual, textual -> {
                for (CoercionInputShape shape : new CoercionInputShape[] {
                    CoercionInputShape.Integer, CoercionInputShape.Float, CoercionInputShape.Boolean
                }) {
                    textual.setCoercion(shape, CoercionAction.Fail);
                }
            });
        };
    }
}
