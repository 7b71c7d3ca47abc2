package dev.admit.contract;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * For which clients a scope is approved ahead. A client fits where each list that is not empty names it; three empty
 * lists end it, and a list that is left out of a change stays.
 *
 * @param kinds of clients, such as web
 * @param tags of which the client has one
 * @param owners e-mail addresses of people, of whom one answers for the client
 */
public record StandingApprovalWanted(
        @OneOf({"machine", "web", "browser", "native", "device"}) @Nullable
        List<String> kinds,

        @Nullable List<String> tags,
        @Nullable List<String> owners) {}
