package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.stream.IntStream;
import org.gantrel.core.run.Crowds.Crowd;
import org.gantrel.core.run.Crowds.Span;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A crowd")
class CrowdsTest {

    private static final Instant NIGHT = Instant.parse("2026-12-24T01:00:00Z");

    private static Span span(int from, int until) {
        return new Span(NIGHT.plusSeconds(from * 60L), NIGHT.plusSeconds(until * 60L));
    }

    @Test
    @DisplayName("is where more would run than there are places, from the first that is too many until they are not")
    void isWhereTooManyRun() {
        List<Span> spans = IntStream.range(0, 6).mapToObj(i -> span(i, i + 10)).toList();
        assertThat(Crowds.of(spans, 4))
                .containsExactly(new Crowd(NIGHT.plusSeconds(4 * 60), NIGHT.plusSeconds(11 * 60), 6, 4));
    }

    @Test
    @DisplayName("is none where one ends as the next begins")
    void isNoneWhereTheyFollow() {
        assertThat(Crowds.of(
                        IntStream.range(0, 20).mapToObj(i -> span(i, i + 1)).toList(), 1))
                .isEmpty();
    }
}
