package org.gantrel.service.traffic;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** Whether it is said of a lane or of another whose name begins alike. */
class LaneWaitsTest {

    @Test
    void knowsALaneByItsWholeName() {
        String words = "a place in lane card-processor: 2 of 2 taken";
        assertThat(LaneWaits.speaksOf(words, "card-processor")).isTrue();
        assertThat(LaneWaits.speaksOf(words, "card")).isFalse();
        assertThat(LaneWaits.speaksOf(words, "processor")).isFalse();
        assertThat(LaneWaits.speaksOf("its turn in lane card-processor and lane card", "card"))
                .isTrue();
        assertThat(LaneWaits.speaksOf("try 2 of 3, after: exit code 1", "card")).isFalse();
    }
}
