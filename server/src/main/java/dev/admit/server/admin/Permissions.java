package dev.admit.server.admin;

import dev.admit.contract.PermissionView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.beans.factory.SmartInitializingSingleton;
import org.springframework.stereotype.Component;
import org.springframework.web.method.HandlerMethod;
import org.springframework.web.servlet.mvc.method.RequestMappingInfo;
import org.springframework.web.servlet.mvc.method.annotation.RequestMappingHandlerMapping;

/** What each endpoint of the admin API declares. One that declares nothing keeps the service from starting. */
@Component
class Permissions implements SmartInitializingSingleton {
    /**
     * Addresses below /admin that no endpoint answers: the one who may see anything here is told that nothing is there.
     */
    private static final Permission NOTHING_THERE =
            new Permission(AdminRole.AUDITOR, Permission.Of.ANY, Permission.OwnerOf.ANYTHING);
    /** An endpoint that declares nothing, should one come about after the start. */
    private static final Permission NOBODY =
            new Permission(AdminRole.ADMINISTRATOR, Permission.Of.SERVICE, Permission.OwnerOf.NOTHING);

    private final ObjectProvider<RequestMappingHandlerMapping> mappings;

    Permissions(ObjectProvider<RequestMappingHandlerMapping> mappings) {
        this.mappings = mappings;
    }

    /** An endpoint of the admin API declares nothing. */
    static final class Undeclared extends IllegalStateException {
        Undeclared(List<String> endpoints) {
            super("These endpoints of the admin API do not say who may use them. Add @Permitted to each: "
                    + String.join(", ", endpoints));
        }
    }

    @Override
    public void afterSingletonsInstantiated() {
        List<String> undeclared = endpoints()
                .filter(it -> declared(it.getValue()).isEmpty())
                .map(it -> it.getKey() + " " + it.getValue())
                .sorted()
                .toList();
        if (!undeclared.isEmpty()) throw new Undeclared(undeclared);
    }

    /** @param handler what answers a request below /admin */
    Permission of(Object handler) {
        if (!(handler instanceof HandlerMethod method) || !isOurs(method)) return NOTHING_THERE;
        return declared(method).orElse(NOBODY);
    }

    /** All of them, by path and method. */
    List<PermissionView> all() {
        return endpoints()
                .flatMap(it -> it.getKey().getMethodsCondition().getMethods().stream()
                        .flatMap(method -> it.getKey().getPatternValues().stream()
                                .map(path -> view(
                                        method.name(),
                                        path,
                                        declared(it.getValue()).orElse(NOBODY)))))
                .sorted(Comparator.comparing(PermissionView::path).thenComparing(PermissionView::method))
                .toList();
    }

    private static PermissionView view(String method, String path, Permission it) {
        return new PermissionView(method, path, it.least().toString(), word(it.of()), word(it.owner()));
    }

    private static String word(Enum<?> it) {
        return it.name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
    }

    private Stream<Map.Entry<RequestMappingInfo, HandlerMethod>> endpoints() {
        return mappings.orderedStream()
                .flatMap(it -> it.getHandlerMethods().entrySet().stream())
                .filter(it -> isOfAdminApi(it.getValue()) || isBelowAdmin(it.getKey(), it.getValue()));
    }

    private static boolean isOfAdminApi(HandlerMethod method) {
        return method.getBeanType().getPackage().equals(Permissions.class.getPackage());
    }

    /**
     * Endpoints of ours that stand elsewhere in the source. The description of the API is the library's own, and
     * public.
     */
    private static boolean isBelowAdmin(RequestMappingInfo info, HandlerMethod method) {
        return isOurs(method)
                && info.getPatternValues().stream()
                        .anyMatch(path -> path.equals("/admin") || path.startsWith("/admin/"));
    }

    private static boolean isOurs(HandlerMethod method) {
        return method.getBeanType().getName().startsWith("dev.admit.");
    }

    private static Optional<Permission> declared(HandlerMethod method) {
        return Optional.ofNullable(method.getMethodAnnotation(Permitted.class))
                .map(it -> new Permission(it.value(), it.of(), it.owner()));
    }
}
