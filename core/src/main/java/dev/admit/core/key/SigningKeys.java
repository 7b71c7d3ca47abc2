package dev.admit.core.key;

/** The keys that are kept, sealed. */
public interface SigningKeys {

    /** @param sealed what {@link SigningKey#sealWith} gave */
    record Kept(String kid, String issuerId, byte[] sealed, long createdAt) {}

    void insert(Kept key);
}
