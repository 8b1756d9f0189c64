package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.OptionalLong;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.gantrel.acceptance.MadeUpNight.Gate;
import org.gantrel.acceptance.MadeUpNight.Overlap;
import org.gantrel.acceptance.MadeUpNight.Task;
import org.gantrel.acceptance.NightBooks.Try;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("A night that was made up")
class MadeUpNightTest extends OneService {

    /** Others are tried by {@code -Dgantrel.night=2 -Dgantrel.starts=1000 -Dgantrel.kills=10}. */
    private static final long NIGHT = Long.getLong("gantrel.night", 1);

    private static final int STARTS = Integer.getInteger("gantrel.starts", 40);
    private static final int KILLS = Integer.getInteger("gantrel.kills", 2);
    /** How often the host is away for a while. */
    private static final int CUTS = Integer.getInteger("gantrel.cuts", 1);

    /** So much may lie between what the service writes down of a chain and what the commands write down of themselves. */
    private static final long SLACK = 30_000_000;
    /** An end is dated by the time of a file, whose clock may stand still for some ticks where the machine is kept from its work. */
    private static final long TICKS = 250_000_000;

    /** Something that takes places for a while. */
    private record Span(long begin, long end, int places, Object who) {}

    private final MadeUpNight night = new MadeUpNight(new Random(NIGHT));
    private final Map<Long, JsonNode> runs = new TreeMap<>();
    private final Map<String, Try> tries = new TreeMap<>();
    /** When the file came that a gate waits for, by the value in its name. */
    private final Map<String, Long> came = new TreeMap<>();
    /** When which job was held. */
    private final List<Span> holds = new ArrayList<>();
    /** When which run was cancelled. */
    private final Map<Long, Long> cancelled = new TreeMap<>();
    /** The other host; nothing where there is no server for it on this machine. */
    private Servers.Server host;

    @Test
    @DisplayName("goes by the rules, whoever kills the service: so say the books that the commands keep themselves")
    void goesByTheRules() throws Exception {
        work.program("work.sh", NightBooks.COMMAND);
        if (Servers.openSsh().isPresent()) {
            host = Servers.startOpenSsh("");
            admin.put(
                            "/api/v1/credentials/far",
                            Map.ofEntries(
                                    Map.entry("team", "revenue"),
                                    Map.entry("kind", "ssh"),
                                    Map.entry("facts", host.facts()),
                                    Map.entry("secrets", Map.of("key", host.text("user") + "\n"))))
                    .expect(201);
        }
        try {
            night.definitions.forEach(this::define);
            play();
        } finally {
            if (host != null) {
                host.close();
            }
        }
        tries.putAll(NightBooks.read(work.read("books")));
        assertThat(tries).hasSizeGreaterThan(STARTS);
        beginsOnce();
        keepsApart();
        fillsNoLane();
        startsWhatFollows();
        waitsForGates();
        keepsHolds();
        endsWhatIsCancelled();
        new NightTold(admin, runs).agrees(night.lanes);
    }

    private void define(String text) {
        String placed = text.replace("FOLDER", work.folder().toString());
        admin.bringIn(host == null ? placed.replace(MadeUpNight.ON_HOST, "") : placed)
                .expect(200);
    }

    private void play() throws Exception {
        var random = new Random(NIGHT);
        for (int i = 1; i <= STARTS; i++) {
            int what = random.nextInt(10);
            Map<String, ?> body = what < 6
                    ? Map.of("parameters", night.values())
                    : what < 8
                            ? Map.of()
                            : Map.of("over", Map.of("roster", night.one(List.copyOf(night.rosters.keySet()))));
            String job = what == 6 || what == 7 ? night.one(List.copyOf(night.chains.keySet())) : night.aTask();
            admin.post("/api/v1/jobs/" + job + "/runs", body).expect(201);
            if (i % (STARTS / 4 + 1) == 0) {
                letCome(MadeUpNight.VALUES.charAt(came.size()));
            }
            if (i % (STARTS / 3) == 1) {
                hold(night.aTask());
            }
            if (i % (STARTS / 10) == 0) {
                cancel(random);
            }
            if (i * (CUTS + 1) % STARTS < CUTS + 1 && i < STARTS && host != null) {
                int begun = lines();
                host = Servers.away(host, () -> lines() > begun + 5 || onlyFarGo());
            }
            if (i * (KILLS + 1) % STARTS < KILLS + 1 && i < STARTS) {
                int begun = lines();
                Await.until("some more go", () -> lines() > begun + 5 || isOver());
                killAndStart();
            }
        }
        for (char value : MadeUpNight.VALUES.substring(came.size()).toCharArray()) {
            letCome(value);
        }
        Await.until("all have ended, and what follows them", () -> isOver() && hasFollowed());
        Await.until("their commands too", () -> NightBooks.areClosed(work.read("books")));
    }

    /** Between an end and what follows it there is a moment in which nothing waits and nothing is under way. */
    private boolean hasFollowed() {
        readRuns();
        return runs.values().stream()
                        .allMatch(run -> run.has("finishedAt")
                                || run.path("state").asString().equals("skipped"))
                && night.tasks.values().stream()
                        .filter(task -> !task.follows().isEmpty())
                        .allMatch(
                                task -> followers(task).size() >= followed(task).size());
    }

    private void letCome(char value) {
        came.put(String.valueOf(value), nanos(Instant.now()));
        work.write("came-" + value, "");
    }

    /** Holds a job until some more have begun. */
    private void hold(String job) throws Exception {
        long id = admin.post("/api/v1/holds", Map.of("on", "job", "name", job, "why", "for a while"))
                .expect(201)
                .body()
                .path("id")
                .asLong();
        long begin = nanos(Instant.now());
        int begun = lines();
        Await.until("some go while it is held", () -> lines() > begun + 3 || isIdle());
        holds.add(new Span(begin, nanos(Instant.now()), 0, job));
        admin.send("DELETE", "/api/v1/holds/" + id, null).expect(200);
    }

    /** Cancels something that waits or is under way, whatever it is. */
    private void cancel(Random random) {
        JsonNode open = admin.get("/api/v1/runs?state=waiting,running&rows=yes&limit=500")
                .expect(200)
                .body();
        if (!open.isEmpty()) {
            long number = open.get(random.nextInt(open.size())).path("number").asLong();
            if (admin.post("/api/v1/runs/" + number + "/cancellation", null).status() == 200) {
                cancelled.put(number, nanos(Instant.now()));
            }
        }
    }

    private boolean isIdle() {
        return admin.get("/api/v1/runs?state=running&rows=yes&limit=1").body().isEmpty();
    }

    /** Whether nothing goes but what waits for the host. */
    private boolean onlyFarGo() {
        return StreamSupport.stream(
                        admin.get("/api/v1/runs?state=running&rows=yes&limit=500")
                                .body()
                                .spliterator(),
                        false)
                .filter(run -> run.path("kind").asString().equals("task"))
                .allMatch(run -> night.tasks.get(run.path("job").asString()).far());
    }

    private int lines() {
        return work.read("books").length() / 40;
    }

    private boolean isOver() {
        return admin.get("/api/v1/runs?state=waiting&rows=yes&limit=1").body().isEmpty()
                && admin.get("/api/v1/runs?state=running&rows=yes&limit=1")
                        .body()
                        .isEmpty();
    }

    private void readRuns() {
        String next = "/api/v1/runs?rows=yes&limit=500";
        while (!next.isEmpty()) {
            Http.Answer page = admin.get(next).expect(200);
            page.body().forEach(run -> runs.put(run.path("number").asLong(), run));
            next = page.next();
        }
    }

    /** Each try once, no more than there may be, each after the last and its wait, and the run ends as the last one. */
    private void beginsOnce() {
        Map<Long, List<Try>> byRun = tries.values().stream()
                .sorted(Comparator.comparing((Try each) -> each.number))
                .collect(Collectors.groupingBy(each -> each.run));
        byRun.forEach((number, all) -> {
            Try last = all.get(all.size() - 1);
            if (!isFar(last)) {
                assertThat(last.number).isEqualTo(all.size());
            }
            assertThat(last.number)
                    .isLessThanOrEqualTo(night.tasks.get(last.job).tries());
            for (int i = 1; i < all.size(); i++) {
                Try before = all.get(i - 1);
                assertThat(isTriedAgain(before))
                        .as(() -> before + ": "
                                + admin.get("/api/v1/runs/" + number).text())
                        .isTrue();
                assertThat(all.get(i).begin - before.end).isGreaterThan(1_000_000_000 - TICKS);
            }
            assertThat(runs.get(number).path("state").asString())
                    .as("run " + number)
                    .isIn(endsAfter(last));
        });
        runs.values().stream()
                .filter(run -> run.path("kind").asString().equals("task")
                        && run.path("state").asString().equals("succeeded"))
                .forEach(run -> assertThat(byRun).containsKey(run.path("number").asLong()));
    }

    /** Whether a try may have been one that could not be made, since the host was away. */
    private boolean isFar(Try each) {
        return night.tasks.get(each.job).far();
    }

    /** One that failed, or took longer than it may: it may have ended well as it was stopped. */
    private boolean isTriedAgain(Try each) {
        // the way to the command counts as well: it may be stopped before it has had its time
        boolean tooLong = night.tasks.get(each.job).limited()
                && (each.end - each.begin > 1_000_000_000 - TICKS || each.code == 143);
        return each.code == 7 || tooLong;
    }

    /** How a run may end whose last try did so. Whoever is stopped may have ended by itself meanwhile. */
    private List<String> endsAfter(Try last) {
        int code = last.code;
        Task task = night.tasks.get(last.job);
        List<String> ends = new ArrayList<>();
        if (code != 143) {
            ends.add(code == 0 ? "succeeded" : "failed");
        }
        if (task.overlap() == Overlap.REPLACES || cancelledAt(last.run).isPresent()) {
            ends.add("cancelled");
        }
        if (task.limited()) {
            ends.add("timed-out");
        }
        if (task.far() && code == 7) {
            ends.add("failed");
        }
        return ends;
    }

    /** No more runs of a job together than may be; the rows of a sweep count as one, unless values tell them apart. */
    private void keepsApart() {
        for (Task task : night.tasks.values()) {
            Map<String, List<Span>> crowds = new HashMap<>();
            Map<Long, List<Try>> sweeps = new HashMap<>();
            for (Try each : tries.values()) {
                if (each.job.equals(task.name())) {
                    JsonNode run = runs.get(each.run);
                    if (run.path("cause").asString().equals("sweep") && !task.apart()) {
                        sweeps.computeIfAbsent(run.path("parent").asLong(), key -> new ArrayList<>())
                                .add(each);
                    } else {
                        crowds.computeIfAbsent(task.apart() ? each.value : "", key -> new ArrayList<>())
                                .add(new Span(each.begin, each.end, 1, each.run));
                    }
                }
            }
            sweeps.forEach((sweep, rows) -> crowds.computeIfAbsent("", key -> new ArrayList<>())
                    .add(new Span(
                            rows.stream().mapToLong(row -> row.begin).min().getAsLong(),
                            rows.stream().mapToLong(row -> row.end).max().getAsLong(),
                            1,
                            sweep)));
            crowds.values().forEach(spans -> most(spans, task.most(), task));
        }
        Map<Long, List<Span>> rows = tries.values().stream()
                .filter(each -> runs.get(each.run).path("cause").asString().equals("sweep"))
                .collect(Collectors.groupingBy(
                        each -> runs.get(each.run).path("parent").asLong(),
                        Collectors.mapping(each -> new Span(each.begin, each.end, 1, each.run), Collectors.toList())));
        int widest = night.rosters.values().stream()
                .mapToInt(Integer::intValue)
                .max()
                .orElseThrow();
        rows.values().forEach(spans -> most(spans, widest, "rows at once"));
    }

    private void fillsNoLane() {
        night.lanes.forEach((lane, width) -> {
            var spans = new ArrayList<Span>();
            for (Try each : tries.values()) {
                int places = night.tasks.get(each.job).lanes().getOrDefault(lane, 0);
                if (places > 0 && !isHeldAround(runs.get(each.run), lane)) {
                    spans.add(new Span(each.begin, each.end, places, each.run));
                }
            }
            for (JsonNode run : runs.values()) {
                int places = run.path("kind").asString().equals("chain")
                        ? night.chains.get(run.path("job").asString()).getOrDefault(lane, 0)
                        : 0;
                if (places > 0 && run.has("startedAt") && !isHeldAround(run, lane)) {
                    spans.add(new Span(
                            nanos(run, "startedAt") + SLACK,
                            nanos(run, "finishedAt") - SLACK,
                            places,
                            run.path("number").asLong()));
                }
            }
            most(spans, width, lane);
        });
    }

    private boolean isHeldAround(JsonNode run, String lane) {
        for (JsonNode above = run; above.has("parent"); ) {
            above = runs.get(above.path("parent").asLong());
            if (night.chains
                    .getOrDefault(above.path("job").asString(), Map.of())
                    .containsKey(lane)) {
                return true;
            }
        }
        return false;
    }

    /** Each end of a job starts what follows it, once. */
    private void startsWhatFollows() {
        for (Task task : night.tasks.values()) {
            if (!task.follows().isEmpty()) {
                assertThat(followers(task))
                        .as("what follows " + task.follows())
                        .containsExactlyInAnyOrderElementsOf(followed(task));
            }
        }
    }

    /** What has ended, and is to start a task. */
    private List<String> followed(Task task) {
        return runs.values().stream()
                .filter(run -> run.path("job").asString().equals(task.follows())
                        && !run.path("cause").asString().equals("sweep"))
                .map(run -> run.path("number").asString())
                .toList();
    }

    /** What has started a task. */
    private List<String> followers(Task task) {
        return runs.values().stream()
                .filter(run -> run.path("job").asString().equals(task.name())
                        && run.path("cause").asString().equals("trigger"))
                .map(run -> run.path("parameters").path("of").asString())
                .toList();
    }

    /** No first try begins before what its gate waits for. */
    private void waitsForGates() {
        Map<String, Long> ended = new HashMap<>();
        runs.values().stream()
                .filter(run -> run.has("finishedAt"))
                .forEach(run -> ended.merge(run.path("job").asString(), nanos(run, "finishedAt"), Math::min));
        for (Try each : tries.values()) {
            Gate gate = night.tasks.get(each.job).gate();
            if (gate.file()) {
                assertThat(each.begin).as("run " + each.run).isGreaterThan(came.get(each.value));
            } else if (!gate.job().isEmpty()) {
                assertThat(ended).as("run " + each.run).containsKey(gate.job());
                assertThat(each.begin).as("run " + each.run).isGreaterThan(ended.get(gate.job()) - TICKS);
            }
        }
    }

    /** When a run was cancelled, or what it is a part of. */
    private OptionalLong cancelledAt(long run) {
        return Stream.iterate(
                        runs.get(run),
                        Objects::nonNull,
                        each -> each.has("parent")
                                ? runs.get(each.path("parent").asLong())
                                : null)
                .map(each -> cancelled.get(each.path("number").asLong()))
                .filter(Objects::nonNull)
                .mapToLong(Long::longValue)
                .min();
    }

    /** Nothing of what is cancelled begins any more but what was on its way. */
    private void endsWhatIsCancelled() {
        for (Try each : tries.values()) {
            cancelledAt(each.run)
                    .ifPresent(at ->
                            assertThat(admitted(each)).as("%s, cancelled", each).isLessThan(at));
        }
    }

    /** Nothing of a job begins while it is held but what was on its way. */
    private void keepsHolds() {
        for (Span hold : holds) {
            tries.values().stream()
                    .filter(each -> each.job.equals(hold.who) && each.begin > hold.begin && each.begin < hold.end)
                    .forEach(each -> assertThat(admitted(each))
                            .as("%s while %s is held", each, hold.who)
                            .isLessThan(hold.begin));
        }
    }

    private static long admitted(Try each) {
        JsonNode run = admin.get("/api/v1/runs/" + each.run).body();
        JsonNode attempts = run.path("attempts");
        return nanos(attempts.isEmpty() ? run : attempts.get(each.number - 1), "startedAt");
    }

    private static long nanos(JsonNode run, String field) {
        return nanos(Instant.parse(run.path(field).asString()));
    }

    private static long nanos(Instant at) {
        return at.getEpochSecond() * 1_000_000_000 + at.getNano();
    }

    private static void most(List<Span> spans, int places, Object what) {
        for (Span begun : spans) {
            var beside = new HashSet<>();
            int taken = 0;
            for (Span each : spans) {
                if (each.begin <= begun.begin && each.end > begun.begin) {
                    taken += each.places;
                    beside.add(each.who);
                }
            }
            assertThat(taken).as("%s: %s", what, beside).isLessThanOrEqualTo(places);
        }
    }
}
