package org.gantrel.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Collectors;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.PlannedTime;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A value in a glob")
class GlobLiteralTest {

    private static final List<String> LETTERS =
            List.of("a", "b", "*", "?", "[", "]", "{", "}", ",", "\\", "!", "^", "ø", ".", "-");

    private static String any(Random random) {
        return random.ints(random.nextInt(7), 0, LETTERS.size())
                .mapToObj(LETTERS::get)
                .collect(Collectors.joining());
    }

    @Test
    @DisplayName("stands for itself and for nothing else, unless it is the whole glob")
    void standsForItself() {
        var random = new Random(20261129);
        for (int round = 0; round < 20_000; round++) {
            String value = any(random);
            String other = any(random);
            var known = new Bindings(
                    Map.of("v", value), new PlannedTime(Instant.parse("2026-11-29T02:30:00Z"), ZoneOffset.UTC));
            Glob glob = Glob.of(known.fillGlob("${v}-*.csv"));
            assertThat(glob.matches(value + "-1.csv")).as(value).isTrue();
            assertThat(glob.matches(other + "-1.csv"))
                    .as("%s by %s", other, value)
                    .isEqualTo((other + "-1.csv").startsWith(value + "-"));
            assertThat(known.fillGlob("${v}")).isEqualTo(value);
        }
    }
}
