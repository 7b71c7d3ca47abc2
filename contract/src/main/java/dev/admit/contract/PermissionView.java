package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;

/**
 * Who may use an endpoint of the admin API.
 *
 * @param path with names of objects in braces
 * @param adminRole the lowest admin role that may
 * @param of whose people: {@code issuer} for those of the issuer in the path, {@code service} for those of the
 *     service's own issuer, {@code any}
 * @param owner what a person must own to use it without an admin role; {@code nothing} where owners may not
 */
public record PermissionView(
        String method,
        String path,
        @JsonProperty("admin_role") String adminRole,
        String of,
        String owner) {}
