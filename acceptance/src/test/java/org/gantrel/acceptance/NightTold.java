package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import tools.jackson.databind.JsonNode;

/** What the service tells of a night, page by page: one must not say what another denies. */
final class NightTold {

    /** The engine may be a moment behind, longer where the machine is kept from its work, or the service just starts. */
    private static final Duration MOMENT = Duration.ofSeconds(20);

    private final Http admin;
    private final Map<Long, JsonNode> runs;

    NightTold(Http admin, Map<Long, JsonNode> runs) {
        this.admin = admin;
        this.runs = runs;
    }

    /** Of each run its waits follow each other, are over when it is, and account for all the time until it began. */
    void waitsAccountForTheTime() {
        runs.forEach((number, run) -> {
            JsonNode why =
                    admin.get("/api/v1/runs/" + number + "/why").expect(200).body();
            Optional<Instant> before = Optional.empty();
            Duration waited = Duration.ZERO;
            for (JsonNode wait : why.path("waits")) {
                assertThat(wait.has("until")).as("over: %s", why).isTrue();
                Instant since = at(wait, "since").orElseThrow();
                Instant until = at(wait, "until").orElseThrow();
                assertThat(until).as("%s", why).isAfterOrEqualTo(since);
                before.ifPresent(end -> assertThat(since).as("%s", why).isAfterOrEqualTo(end));
                before = Optional.of(until);
                waited = waited.plus(Duration.between(since, until));
            }
            Optional<Instant> began = at(run, "startedAt");
            if (began.isPresent() && run.path("attempt").asInt() == 1) {
                Instant due = later(
                        at(run, "queuedAt").orElseThrow(), at(run, "plannedAt").orElseThrow());
                assertThat(Duration.between(due, began.get()).minus(waited))
                        .as("not accounted for by %s", why)
                        .isLessThan(MOMENT);
                assertThat(began.get())
                        .as("%s", run)
                        .isAfterOrEqualTo(at(run, "queuedAt").get());
            }
            Optional<Instant> ended = at(run, "finishedAt");
            if (began.isPresent() && ended.isPresent()) {
                assertThat(ended.get()).as("%s", run).isAfterOrEqualTo(began.get());
            }
        });
    }

    /** The journal has the end of each run once, as the run has it. */
    void journalHasEachEnd() {
        Map<Long, String> ends = new HashMap<>();
        String next = "/api/v1/journal?type=run.ended&limit=200";
        while (!next.isEmpty()) {
            Http.Answer page = admin.get(next).expect(200);
            for (JsonNode event : page.body()) {
                long number = event.path("run").asLong();
                assertThat(ends.put(number, event.path("about").path("state").asString()))
                        .as("ended twice: run " + number)
                        .isNull();
            }
            next = page.next();
        }
        runs.forEach((number, run) -> assertThat(ends)
                .as("%s", run)
                .containsEntry(number, run.path("state").asString()));
    }

    /** No hour of a lane had more places taken than there are. */
    void lanesWereNeverOverfull(Map<String, Integer> lanes) {
        lanes.forEach((lane, width) -> admin.get("/api/v1/lanes/" + lane)
                .expect(200)
                .body()
                .path("hours")
                .forEach(hour -> assertThat(hour.path("most").asInt())
                        .as("%s: %s", lane, hour)
                        .isLessThanOrEqualTo(width)));
    }

    private static Instant later(Instant one, Instant other) {
        return one.isAfter(other) ? one : other;
    }

    private static Optional<Instant> at(JsonNode node, String field) {
        return node.has(field) ? Optional.of(Instant.parse(node.path(field).asString())) : Optional.empty();
    }
}
