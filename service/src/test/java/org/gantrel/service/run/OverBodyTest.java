package org.gantrel.service.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.gantrel.service.run.RunApi.OverBody;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A start over a roster")
class OverBodyTest {

    @ParameterizedTest
    @ValueSource(strings = {"failed-of-4711", "all-of-4711", "good-of-1"})
    @DisplayName("does not name the rows of a run: that may be another team's")
    void namesNoRun(String rows) {
        assertThatThrownBy(() -> new OverBody("routes", rows, null, null).read())
                .hasMessageContaining("all, failed, or places such as 1,4-7 would be right");
    }

    @Test
    @DisplayName("takes all rows where none are named")
    void takesAll() {
        assertThat(new OverBody("routes", null, null, null).read()).isEqualTo(SweepRequest.all("routes"));
        assertThat(new OverBody("routes", "1,4-7", 2, "stop").read().rows()).isEqualTo("1,4-7");
    }
}
