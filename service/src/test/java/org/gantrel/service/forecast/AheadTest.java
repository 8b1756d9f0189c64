package org.gantrel.service.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.gantrel.core.forecast.Coming;
import org.gantrel.core.forecast.Simulation.Outcome;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("What is played of what is to come")
class AheadTest {

    private static final Instant NOON = Instant.parse("2026-11-28T12:00:00Z");
    private static final int STEPS = 40;

    @TempDir
    private Path folder;

    @Test
    @DisplayName("is played step by step as far as there are not too many, and as a whole after that")
    void isBounded() {
        String steps = IntStream.range(0, STEPS)
                .mapToObj(step -> "  - { step: s" + step + ", job: small }\n")
                .collect(Collectors.joining());
        try (var service = LiveService.fresh(folder, new MovableClock(NOON))) {
            service.define(
                    "task: small\nteam: revenue\ndoes: { command: [ \"true\" ] }\n---\nchain: often\nteam: revenue\n"
                            + "steps:\n" + steps
                            + "schedules: [ { name: minutely, when: every minute, zone: UTC } ]\n");
            List<Outcome> outcomes = List.copyOf(service.bean(Ahead.class)
                    .play(NOON, NOON.plus(Duration.ofDays(1)), Supposed.NOTHING)
                    .starts()
                    .values());
            assertThat(outcomes).hasSizeGreaterThan(1_400);
            int whole = (int) outcomes.stream()
                    .filter(each -> each.run().parts().isEmpty())
                    .count();
            assertThat(outcomes.size() - whole).isEqualTo(Courses.MOST_PARTS / STEPS);
            assertThat(outcomes.get(0).run().parts()).hasSize(STEPS);
            assertThat(outcomes).allMatch(each -> each.ends().isPresent());
        }
    }

    @Test
    @DisplayName(
            "has each row of a sweep for itself: one that works takes a place of the service, one that leads others none")
    void hasRows() {
        try (var service = LiveService.fresh(folder, new MovableClock(NOON))) {
            service.define(
                    """
                    lane: cards
                    team: revenue
                    width: 1
                    ---
                    task: small
                    team: revenue
                    lanes: [ cards ]
                    parameters: { route: { type: text } }
                    does: { command: [ "true" ] }
                    ---
                    chain: both
                    team: revenue
                    lanes: [ cards ]
                    parameters: { route: { type: text } }
                    steps: [ { step: one, job: small, with: { route: "${route}" } } ]
                    ---
                    roster: routes
                    team: revenue
                    columns: [ route ]
                    rows: [ { route: skarholm }, { route: sound }, { route: outer-isles } ]
                    at-once: 2
                    ---
                    chain: night
                    team: revenue
                    steps:
                      - { step: tasks, job: small, over: routes }
                      - { step: chains, job: both, over: routes }
                    schedules: [ { name: nightly, when: every day at 13:00, zone: UTC } ]
                    """);
            List<Coming.Part> steps = service.bean(Ahead.class)
                    .play(NOON, NOON.plus(Duration.ofHours(2)), Supposed.NOTHING)
                    .starts()
                    .values()
                    .iterator()
                    .next()
                    .run()
                    .parts();
            assertThat(steps).hasSize(2).allMatch(step -> step.run().parent());
            for (int step = 0; step < 2; step++) {
                boolean leads = step == 1;
                List<Coming.Part> rows = steps.get(step).run().parts();
                assertThat(rows).hasSize(3).allMatch(row -> row.run().parent() == leads);
                assertThat(rows).allMatch(row -> row.run().demand().lanes().containsKey("cards"));
                assertThat(rows.get(2).after()).containsExactly(0);
            }
        }
    }
}
