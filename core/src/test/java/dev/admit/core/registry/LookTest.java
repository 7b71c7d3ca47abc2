package dev.admit.core.registry;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Names that a person could take for each other. */
class LookTest {
    @ParameterizedTest(name = "{0} looks like {1}: {2}")
    @CsvSource({
        "Berth desk, BERTH-DESK, true",
        "Berth desk, Bérth  Desk, true",
        "Berth desk, Веrth dеsk, true",
        "Tide, T1de, true",
        "Tide, Tlde, true",
        "Tide, ΤΙDΕ, true",
        "Harbour, Harb0ur, true",
        "Marnes, Mames, true",
        "Pilot (2), Pilot 2, true",
        "Berth desk, Birth desk, false",
        "Berth desk, Berth desks, false",
        "Tide, Tides, false"
    })
    void aSkeletonIsWhatTheEyeSees(String one, String other, boolean alike) {
        assertThat(Look.skeleton(one).equals(Look.skeleton(other))).isEqualTo(alike);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource({
        "Berth desk, false",
        "Берёза, false",
        "Bеrth, true",
        "Tide 7 – North, false",
        "潮位ひょう, false",
        "Tide 潮位, false",
        "Tιde, true"
    })
    void lettersOfTwoScriptsAreSeen(String name, boolean mixed) {
        assertThat(Look.mixesScripts(name)).isEqualTo(mixed);
    }
}
