package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("Progress")
class ProgressTest {

    @Test
    @DisplayName("is read from a line, whose parts may each be missing, and added to what was said before")
    void isRead() {
        Progress first = Progress.of(
                        "%gantrel {\"progress\": 0.4, \"text\": \"4 of 10 routes\", \"values\": {\"tickets\": 339}}")
                .orElseThrow();
        assertThat(first).isEqualTo(new Progress(Optional.of(0.4), "4 of 10 routes", Map.of("tickets", "339")));
        Progress then = first.then(Progress.of("%gantrel {\"progress\": 1}").orElseThrow());
        assertThat(then).isEqualTo(new Progress(Optional.of(1.0), "4 of 10 routes", Map.of("tickets", "339")));
    }

    @ParameterizedTest
    @DisplayName("is no line that is not so: that is a line of the log")
    @ValueSource(
            strings = {
                "%gantrel",
                "%gantrel {",
                "%gantrel {}",
                "%gantrel [1]",
                " %gantrel {\"progress\": 0.4}",
                "%gantrel {\"progress\": 1.5}",
                "%gantrel {\"progress\": -1}",
                "%gantrel {\"progress\": \"much\"}",
                "%gantrel {\"progres\": 0.4}",
                "%gantrel {\"text\": [ \"a\" ]}",
                "%gantrel {\"values\": {\"a b\": 1}}",
                "%gantrel {\"values\": {\"a\": {\"b\": 1}}}"
            })
    void isNone(String line) {
        assertThat(Progress.of(line)).isEmpty();
        assertThat(Progress.without("before\n" + line + "\nafter\n")).isEqualTo("before\n" + line + "\nafter\n");
    }

    @Test
    @DisplayName("is not shown as log")
    void isNotShown() {
        String log = "one\n%gantrel {\"progress\": 0.5}\ntwo\n%gantrel {\"text\": \"x\"}";
        assertThat(Progress.without(log)).isEqualTo("one\ntwo\n");
        assertThat(Progress.of("%gantrel {\"text\": \"" + "x".repeat(300) + "\"}"))
                .isEmpty();
    }
}
