package dev.admit.contract;

/** A request that was never sent. @param token that it would carry; null for none */
public record ExplainWanted(String method, String path, String token) {
    @Override public String toString() {
        return "ExplainWanted[" + method + "]";
    }
}
