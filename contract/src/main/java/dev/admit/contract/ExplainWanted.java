package dev.admit.contract;

/**
 * A request that was never sent. @param host that it would be for; null for any that no route names, @param token that
 * it would carry; null for none
 */
public record ExplainWanted(String method, String host, String path, String token) {
    @Override
    public String toString() {
        return "ExplainWanted[" + method + "]";
    }
}
