package org.gantrel.core.lane;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.gantrel.core.lane.Fullness.Hour;
import org.gantrel.core.lane.Fullness.Span;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("How full a lane was")
class FullnessTest {

    private static final Instant BEGIN = Instant.parse("2026-11-23T01:00:00Z");

    @Test
    @DisplayName("is one place at once where one run follows the other, however many there were")
    void oneAfterTheOther() {
        List<Span> spans = IntStream.range(0, 6)
                .mapToObj(i -> new Span(BEGIN.plusSeconds(600 * i), BEGIN.plusSeconds(600 * (i + 1)), 1))
                .toList();
        assertThat(Fullness.hours(spans, BEGIN, 2))
                .containsExactly(new Hour(BEGIN, 1, 1), new Hour(BEGIN.plusSeconds(3_600), 0, 0));
    }

    @Test
    @DisplayName("is what looking at every second gives, whoever came and went when")
    void agreesWithLookingAtEverySecond() {
        var random = new Random(31);
        for (int round = 0; round < 200; round++) {
            var spans = new ArrayList<Span>();
            for (int i = random.nextInt(12); i > 0; i--) {
                long from = random.nextInt(5 * 12) * 300L - 3_600 + (random.nextBoolean() ? 0 : random.nextInt(300));
                long length = random.nextInt(4) == 0 ? 0 : random.nextInt(9_000);
                spans.add(new Span(BEGIN.plusSeconds(from), BEGIN.plusSeconds(from + length), 1 + random.nextInt(3)));
            }
            List<Hour> hours = Fullness.hours(spans, BEGIN, 3);
            for (int hour = 0; hour < 3; hour++) {
                long sum = 0;
                int most = 0;
                for (int second = 0; second < 3_600; second++) {
                    Instant at = BEGIN.plusSeconds(hour * 3_600L + second);
                    int taken = spans.stream()
                            .filter(span ->
                                    !span.from().isAfter(at) && span.until().isAfter(at))
                            .mapToInt(Span::places)
                            .sum();
                    sum += taken;
                    most = Math.max(most, taken);
                }
                assertThat(hours.get(hour).most()).as("%s", spans).isEqualTo(most);
                assertThat(hours.get(hour).taken()).isCloseTo(sum / 3_600.0, within(1e-9));
            }
        }
    }
}
