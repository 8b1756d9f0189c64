package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.gantrel.core.run.Comparison.Beside;
import org.gantrel.core.run.Comparison.Fact;
import org.gantrel.core.run.Comparison.Kind;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("Two runs side by side")
class ComparisonTest {

    private static Fact text(String what, String value) {
        return new Fact(what, Kind.TEXT, value);
    }

    private static Beside one(Kind kind, String one, String other) {
        return Comparison.of(List.of(new Fact("x", kind, one)), List.of(new Fact("x", kind, other)))
                .get(0);
    }

    @Test
    @DisplayName("have each fact once, in the order of the one, and what the other alone has where it has it")
    void inOrder() {
        List<Beside> rows = Comparison.of(
                List.of(text("state", "failed"), text("took", "a"), text("end", "e"), text("end", "again")),
                List.of(text("new", "n"), text("state", "failed"), text("waited", "w"), text("last", "l")));
        assertThat(rows)
                .extracting(row -> row.what() + "|" + row.one() + "|" + row.other())
                .containsExactly("new||n", "state|failed|failed", "waited||w", "last||l", "took|a|", "end|e|");
        assertThat(rows).filteredOn(Beside::isAlike).extracting(Beside::what).containsExactly("state");
    }

    @ParameterizedTest(name = "{0}: {1} and {2} differ by {3}")
    @CsvSource({
        "DURATION, PT1M, PT3M20S, +2 min 20 s",
        "DURATION, PT3M20S, PT1M, -2 min 20 s",
        "DURATION, PT1M, PT1M, ''",
        "DURATION, '', PT1M, ''",
        "NUMBER, 12.5, 10, -2.5",
        "NUMBER, 1, 3, +2",
        "NUMBER, 1, three, ''",
        "NUMBER, 1, 1e999999999, ''",
        "NUMBER, 1.0, 1.00, 0.00",
        "BYTES, 2000000, 500000, -1.5 MB",
        "TEXT, 1, 2, ''",
        "TIME, 2026-11-24T02:30:00Z, 2026-11-25T02:30:00Z, ''",
    })
    void by(Kind kind, String one, String other, String by) {
        assertThat(one(kind, one, other).by()).isEqualTo(by);
    }
}
