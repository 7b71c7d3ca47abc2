package dev.admit.core.approval;

import dev.admit.core.change.Change;
import dev.admit.core.change.Transactions;
import dev.admit.core.token.Lifetime;
import dev.admit.core.token.MintingOrder;
import dev.admit.core.token.Revocation;
import dev.admit.core.token.Revocations;
import dev.admit.core.token.StoredRevocations;
import dev.admit.core.token.TokenId;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;

/**
 * Makes changes that end tokens: the change, the revocations that follow from it and their cut-off are one transaction,
 * and when it returns the gateway already refuses what was ended.
 */
public final class Withdrawal {
    private final Transactions transactions;
    private final MintingOrder order;
    private final StoredRevocations kept;
    private final Revocations inForce;
    private final Consumer<String> forgetClient;
    private final Clock clock;
    /** Set while several changes run as one, on the thread that runs them. */
    private final ThreadLocal<Revoke> larger = new ThreadLocal<>();

    /** @param forgetClient drops what is remembered of a client, so that the next token request reads it anew */
    public Withdrawal(
            Transactions transactions,
            MintingOrder order,
            StoredRevocations kept,
            Revocations inForce,
            Consumer<String> forgetClient,
            Clock clock) {
        this.transactions = transactions;
        this.order = order;
        this.kept = kept;
        this.inForce = inForce;
        this.forgetClient = forgetClient;
        this.clock = clock;
    }

    /** What a change can end. */
    public interface Revoke {
        /**
         * Every token of the client that has the scope of this approval, the one who approved it: an administrator for
         * everyone, or people for themselves.
         */
        void approval(Approval approval);

        /** Every token of a client that has a scope. */
        void scope(String clientId, String scope);

        /** Every token of a client. */
        void client(String clientId);

        /** Every token for an API. */
        void api(String issuerId, String audience);

        /**
         * One token.
         *
         * @param expiresAt when it expires by itself
         */
        void token(TokenId id, Instant expiresAt);

        /**
         * Every token on a person's behalf.
         *
         * @param clientId empty for whichever holds it
         * @param scope empty for whatever it permits
         */
        void person(String personId, Optional<String> clientId, Optional<String> scope);

        /** Every token on anyone's behalf with a scope. */
        void people(String issuerId, String scope);

        void session(String sessionId);

        void grant(String grantId);

        /** No token; but what is remembered of the client is out of date. */
        void forget(String clientId);
    }

    /**
     * @param work runs in one transaction, perhaps twice; says through {@link Revoke} which tokens end with it. What it
     *     calls may revoke too: that becomes part of it, because the order of minting waits for nobody who has it
     *     already
     */
    public <T> Change<T> revoking(Function<Revoke, Change<T>> work) {
        if (larger.get() != null)
            return work.apply(larger.get()); // part of a larger one, which has the order and the transaction
        return inOrder(revoke -> {
            larger.set(revoke);
            try {
                return work.apply(revoke);
            } finally {
                larger.remove();
            }
        });
    }

    /**
     * Several changes as one, those that end tokens among them. When the work throws, nothing of it is written or
     * ended.
     */
    public <T> Change<T> together(Supplier<Change<T>> work) {
        return revoking(revoke -> work.get());
    }

    private <T> Change<T> inOrder(Function<Revoke, Change<T>> work) {
        return order.withdrawing(cutOff -> {
            List<Revocation> ended = new ArrayList<>();
            Set<String> touched = new LinkedHashSet<>();
            Change<T> change = transactions.inOne(() -> {
                ended.clear();
                Change<T> made = work.apply(collecting(ended, touched, cutOff));
                if (made instanceof Change.Made<T>) ended.forEach(kept::insert);
                return made;
            });
            if (change instanceof Change.Made<T>) ended.forEach(inForce::add);
            touched.forEach(forgetClient);
            return change;
        });
    }

    private Revoke collecting(List<Revocation> ended, Set<String> touched, TokenId cutOff) {
        Instant dropAt = clock.instant().plus(Lifetime.LONGEST).plus(Lifetime.SKEW);
        return new Revoke() {
            @Override
            public void approval(Approval approval) {
                touched.add(approval.clientId());
                ended.add(new Revocation(
                        new Revocation.Meant.OfClient(approval.clientId(), Optional.of(approval.scopeName())),
                        cutOff.order(),
                        dropAt));
            }

            @Override
            public void scope(String clientId, String scope) {
                touched.add(clientId);
                ended.add(new Revocation(
                        new Revocation.Meant.OfClient(clientId, Optional.of(scope)), cutOff.order(), dropAt));
            }

            @Override
            public void forget(String clientId) {
                touched.add(clientId);
            }

            @Override
            public void client(String clientId) {
                touched.add(clientId);
                ended.add(new Revocation(
                        new Revocation.Meant.OfClient(clientId, Optional.empty()), cutOff.order(), dropAt));
            }

            @Override
            public void api(String issuerId, String audience) {
                ended.add(new Revocation(new Revocation.Meant.ForApi(issuerId, audience), cutOff.order(), dropAt));
            }

            @Override
            public void person(String personId, Optional<String> clientId, Optional<String> scope) {
                ended.add(new Revocation(
                        new Revocation.Meant.OfPerson(personId, clientId, scope), cutOff.order(), dropAt));
            }

            @Override
            public void people(String issuerId, String scope) {
                ended.add(new Revocation(new Revocation.Meant.OfPeople(issuerId, scope), cutOff.order(), dropAt));
            }

            @Override
            public void session(String sessionId) {
                ended.add(new Revocation(new Revocation.Meant.OfSession(sessionId), cutOff.order(), dropAt));
            }

            @Override
            public void grant(String grantId) {
                ended.add(new Revocation(new Revocation.Meant.OfGrant(grantId), cutOff.order(), dropAt));
            }

            @Override
            public void token(TokenId id, Instant expiresAt) {
                ended.add(new Revocation(new Revocation.Meant.One(id), cutOff.order(), expiresAt.plus(Lifetime.SKEW)));
            }
        };
    }
}
