package dev.admit.contract;

import java.util.List;

/**
 * For which clients a scope is approved ahead. A client fits where each list that is not empty names it; three empty
 * lists end it, and a list that is left out of a change stays.
 *
 * @param kinds of clients, such as web
 * @param tags of which the client has one
 * @param owners e-mail addresses of people, of whom one answers for the client
 */
public record StandingApprovalWanted(List<String> kinds, List<String> tags, List<String> owners) {}
