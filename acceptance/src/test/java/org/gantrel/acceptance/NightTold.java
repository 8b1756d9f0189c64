package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/** What the service tells of a night, page by page: one must not say what another denies. */
final class NightTold {

    /** The engine may be a moment behind, longer where the machine is kept from its work, or the service just starts. */
    private static final Duration MOMENT = Duration.ofSeconds(20);

    private static final Pattern COUNTED = Pattern.compile("gantrel_runs\\{state=\"([a-z-]+)\"} ([1-9][0-9.]*)");

    private static final Set<String> BAD = Set.of("failed", "timed-out", "missed");
    /** What says that a job is well, or that it is not. */
    private static final Set<String> CLEAR = Set.of("succeeded", "warned", "failed", "timed-out", "missed");

    private final Http admin;
    private final Map<Long, JsonNode> runs;
    private final NightHands hands;
    /** Where in the journal the end of each run stands. */
    private final Map<Long, Long> ends = new HashMap<>();

    NightTold(Http admin, Map<Long, JsonNode> runs, NightHands hands) {
        this.admin = admin;
        this.runs = runs;
        this.hands = hands;
    }

    void agrees() {
        waitsAccountForTheTime();
        journalHasEachEnd();
        lanesWereNeverOverfull();
        triesFollowEachOther();
        jobsHaveTheirLastRun();
        metricsCountEachRun();
        todayCountsEachRun();
        faultsAreOfTheLastEnds();
        boardHasWhatReachesIn();
    }

    /** Of each run its waits follow each other, are over when it is, and account for all the time until it began. */
    private void waitsAccountForTheTime() {
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
            // one that went on again began anew
            if (began.isPresent() && run.path("attempt").asInt() == 1 && !hands.wasTakenUp(runs, number)) {
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

    /** The journal has the end of each run once, as the run has it; of a chain that went on again, the later ones too. */
    private void journalHasEachEnd() {
        Map<Long, String> states = new HashMap<>();
        String next = "/api/v1/journal?type=run.ended&limit=200";
        while (!next.isEmpty()) {
            Http.Answer page = admin.get(next).expect(200);
            for (JsonNode event : page.body()) {
                long number = event.path("run").asLong();
                if (ends.containsKey(number)) {
                    assertThat(hands.wasTakenUp(runs, number))
                            .as("ended twice: run " + number)
                            .isTrue();
                }
                if (ends.merge(number, event.path("id").asLong(), Math::max)
                        == event.path("id").asLong()) {
                    states.put(number, event.path("about").path("state").asString());
                }
            }
            next = page.next();
        }
        runs.forEach((number, run) -> assertThat(states)
                .as("%s", run)
                .containsEntry(number, run.path("state").asString()));
    }

    /** No hour of a lane had more places taken than there are. */
    private void lanesWereNeverOverfull() {
        hands.widths.forEach((lane, widths) -> admin.get("/api/v1/lanes/" + lane)
                .expect(200)
                .body()
                .path("hours")
                .forEach(hour -> assertThat(hour.path("most").asInt())
                        .as("%s: %s", lane, hour)
                        .isLessThanOrEqualTo(widths.stream()
                                .mapToInt(NightHands.Width::places)
                                .max()
                                .orElseThrow())));
    }

    /** The metrics have each run once, and no other. */
    private void metricsCountEachRun() {
        Map<String, Long> counts = runs.values().stream()
                .collect(Collectors.groupingBy(
                        run -> run.path("state").asString(), TreeMap::new, Collectors.counting()));
        Await.until("the metrics count " + counts, () -> counts.equals(counted()));
    }

    private Map<String, Long> counted() {
        return COUNTED.matcher(admin.get("/metrics").expect(200).text())
                .results()
                .collect(Collectors.toMap(
                        found -> found.group(1),
                        found -> Math.round(Double.parseDouble(found.group(2))),
                        Long::sum,
                        TreeMap::new));
    }

    /** Today has each run of the day that is nobody's part, by how it ended. */
    private void todayCountsEachRun() {
        JsonNode today = admin.get("/api/v1/today?zone=UTC").expect(200).body();
        Instant from = at(today, "from").orElseThrow();
        Instant until = at(today, "until").orElseThrow();
        Map<String, Long> counts = new TreeMap<>();
        today.path("counts")
                .properties()
                .forEach(each -> counts.put(each.getKey(), each.getValue().asLong()));
        assertThat(counts)
                .isEqualTo(runs.values().stream()
                        .filter(run -> !run.has("parent"))
                        .filter(run -> !at(run, "plannedAt").orElseThrow().isBefore(from)
                                && at(run, "plannedAt").orElseThrow().isBefore(until))
                        .collect(Collectors.groupingBy(
                                run -> run.path("state").asString(), TreeMap::new, Collectors.counting())));
    }

    /** Each job's last run is the newest that is no row, as that run ended. */
    private void jobsHaveTheirLastRun() {
        Map<String, Long> last = new TreeMap<>();
        runs.forEach((number, run) -> {
            if (!run.path("cause").asString().equals("sweep")) {
                last.merge(run.path("job").asString(), number, Math::max);
            }
        });
        Map<String, Long> told = new TreeMap<>();
        admin.get("/api/v1/jobs?limit=500").expect(200).body().forEach(job -> {
            if (job.has("last")) {
                long number = job.path("last").path("number").asLong();
                told.put(job.path("name").asString(), number);
                assertThat(job.path("last").path("state"))
                        .as("%s", job)
                        .isEqualTo(runs.get(number).path("state"));
            }
        });
        assertThat(told).isEqualTo(last);
    }

    /** A fault is open exactly where a job's last end was a bad one. */
    private void faultsAreOfTheLastEnds() {
        Map<String, JsonNode> last = new TreeMap<>();
        runs.values().stream()
                .filter(run -> !run.path("cause").asString().equals("sweep"))
                .filter(run -> CLEAR.contains(run.path("state").asString()))
                .sorted(Comparator.comparing(run -> ends.get(run.path("number").asLong())))
                .forEach(run -> last.put(run.path("job").asString(), run));
        Set<String> bad = new TreeSet<>();
        last.forEach((job, run) -> {
            if (BAD.contains(run.path("state").asString())) {
                bad.add(job);
            }
        });
        Await.until("the faults are those of " + bad, () -> bad.equals(faulty()));
    }

    private Set<String> faulty() {
        Set<String> faulty = new TreeSet<>();
        admin.get("/api/v1/faults")
                .expect(200)
                .body()
                .forEach(fault -> faulty.add(fault.path("job").asString()));
        return faulty;
    }

    /** The tries of a run follow each other, and the run ends as the last of them. */
    private void triesFollowEachOther() {
        runs.keySet().forEach(number -> {
            JsonNode run = admin.get("/api/v1/runs/" + number).expect(200).body();
            Optional<Instant> before = Optional.empty();
            for (JsonNode each : run.path("attempts")) {
                Instant since = at(each, "startedAt").orElseThrow();
                before.ifPresent(end -> assertThat(since).as("%s", run).isAfterOrEqualTo(end));
                before = at(each, "finishedAt");
                assertThat(before).as("%s", run).isPresent();
                assertThat(before.get()).as("%s", run).isAfterOrEqualTo(since);
            }
            if (before.isPresent()) {
                boolean endedBetween = run.path("message").asString().contains("before try");
                assertThat(run.path("attempts").size() + (endedBetween ? 1 : 0))
                        .as("%s", run)
                        .isEqualTo(run.path("attempt").asInt());
                assertThat(at(run, "startedAt").orElseThrow()).as("%s", run).isBeforeOrEqualTo(before.get());
                assertThat(at(run, "finishedAt").orElseThrow()).as("%s", run).isAfterOrEqualTo(before.get());
            }
        });
    }

    /** The board of a span in the middle has what was planned in it, and what reaches into it. */
    private void boardHasWhatReachesIn() {
        Instant begin = runs.values().stream()
                .map(run -> at(run, "plannedAt").orElseThrow())
                .min(Instant::compareTo)
                .orElseThrow();
        Instant end = runs.values().stream()
                .flatMap(run -> at(run, "finishedAt").stream())
                .max(Instant::compareTo)
                .orElseThrow();
        Instant from = begin.plus(Duration.between(begin, end).dividedBy(3));
        Instant until = from.plus(Duration.between(begin, end).dividedBy(3));
        Set<Long> drawn = new TreeSet<>();
        admin.get("/api/v1/board?from=" + from + "&until=" + until)
                .expect(200)
                .body()
                .path("rows")
                .forEach(row -> row.path("runs")
                        .forEach(bar -> drawn.add(bar.path("number").asLong())));
        Set<Long> reaching = new TreeSet<>();
        runs.forEach((number, run) -> {
            Instant planned = at(run, "plannedAt").orElseThrow();
            if (!run.path("cause").asString().equals("sweep")
                    && planned.isBefore(until)
                    && !at(run, "finishedAt").orElse(planned).isBefore(from)) {
                reaching.add(number);
            }
        });
        assertThat(drawn).isEqualTo(reaching);
    }

    private static Instant later(Instant one, Instant other) {
        return one.isAfter(other) ? one : other;
    }

    private static Optional<Instant> at(JsonNode node, String field) {
        return node.has(field) ? Optional.of(Instant.parse(node.path(field).asString())) : Optional.empty();
    }
}
