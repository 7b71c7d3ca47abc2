package dev.admit.core.change;

import java.util.function.Supplier;

/** Makes what is kept the configuration in force. */
public interface Republish {

    /** When this returns, every request that comes is judged by what is kept now. */
    void republish();

    /** For changes of which many belong together: none of them republishes by itself. */
    interface Held extends Republish {

        /** Runs work during which {@link #republish} does nothing in this thread. */
        <T> T held(Supplier<T> work);

        /** Two as one. */
        static Held both(Held one, Held two) {
            return new Held() {
                @Override
                public void republish() {
                    one.republish();
                    two.republish();
                }

                @Override
                public <T> T held(Supplier<T> work) {
                    return one.held(() -> two.held(work));
                }
            };
        }
    }
}
