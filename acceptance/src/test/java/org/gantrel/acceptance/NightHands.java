package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.OptionalLong;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.stream.Stream;
import tools.jackson.databind.JsonNode;

/** What people do to a night, and when: each deed is made up, and written down, since the rules go by it. */
final class NightHands {

    /** Some time in nanoseconds since 1970, and what it is of. */
    record Span(long begin, long end, String of) {}

    /** A width that a lane has from then on. */
    record Width(long since, int places) {}

    /** When which job or lane was held. */
    final List<Span> holds = new ArrayList<>();
    /** The jobs and lanes of which what was under way has been stopped once. */
    final Set<String> stopped = new HashSet<>();
    /** When which lane was closed. */
    final List<Span> closures = new ArrayList<>();
    /** When which run of a chain was held. */
    final List<Span> chainHolds = new ArrayList<>();
    /** When which run was cancelled, until it was taken up again. */
    final List<Span> cancelled = new ArrayList<>();
    /** The widths that each lane has had. */
    final Map<String, List<Width>> widths = new TreeMap<>();
    /** The runs whose next try came at once. */
    final Set<Long> hurried = new HashSet<>();
    /** How many tries the runs have had that were given up. */
    final Map<Long, Integer> givenUp = new TreeMap<>();
    /** The chains that were taken up again. */
    final Set<Long> takenUp = new HashSet<>();

    private final Supplier<Http> admin;
    private final MadeUpNight night;
    private final Random random;
    /** Waits until some more have begun, or nothing goes. */
    private final Runnable meanwhile;

    private final Consumer<String> define;

    NightHands(Supplier<Http> admin, MadeUpNight night, Random random, Runnable meanwhile, Consumer<String> define) {
        this.define = define;
        this.admin = admin;
        this.night = night;
        this.random = random;
        this.meanwhile = meanwhile;
        night.lanes.forEach((lane, width) -> widths.put(lane, new ArrayList<>(List.of(new Width(0, width)))));
    }

    static long now() {
        return nanos(Instant.now());
    }

    static long nanos(Instant at) {
        return at.getEpochSecond() * 1_000_000_000 + at.getNano();
    }

    /** Does something. */
    void act() {
        switch (random.nextInt(10)) {
            case 0, 1 -> cancel();
            case 2 -> decideOnNextTry();
            case 3, 4 -> takeUp();
            case 5 -> widen(night.one(List.copyOf(night.lanes.keySet())), random.nextInt(1, 4));
            case 7, 8 -> define(night.aTask());
            case 6 -> close(night.one(List.copyOf(night.lanes.keySet())));
            default -> holdChain();
        }
    }

    /** Lets all lanes be as wide as they were, so that whatever waits can go. */
    void restore() {
        night.lanes.forEach(this::widen);
    }

    /** Holds a job or a lane for a while. */
    void hold() {
        boolean lane = random.nextInt(3) == 0;
        String name = lane ? night.one(List.copyOf(night.lanes.keySet())) : night.aTask();
        boolean stops = random.nextInt(3) == 0;
        long id = http().post(
                        "/api/v1/holds",
                        Map.of(
                                "on",
                                lane ? "lane" : "job",
                                "name",
                                name,
                                "why",
                                "for a while",
                                "running",
                                stops ? "stop" : "finish"))
                .expect(201)
                .body()
                .path("id")
                .asLong();
        if (stops) {
            stopped.add(name);
        }
        holds.add(whileIn(name, () -> http().send("DELETE", "/api/v1/holds/" + id, null)));
    }

    /** Gives a task other rules. */
    private void define(String task) {
        define.accept(night.change(task));
        noteRevision(task);
    }

    /** Notes which revision a task has now. */
    void noteRevision(String task) {
        night.isAt(
                task,
                http().get("/api/v1/jobs/" + task)
                        .expect(200)
                        .body()
                        .path("revision")
                        .asInt());
    }

    private void close(String lane) {
        http().put("/api/v1/lanes/" + lane + "/closure", Map.of("why", "for a while"))
                .expect(200);
        closures.add(whileIn(lane, () -> http().send("DELETE", "/api/v1/lanes/" + lane + "/closure", null)));
    }

    private void holdChain() {
        one("running", NightHands::isChain).ifPresent(number -> {
            if (http().put("/api/v1/runs/" + number + "/hold", Map.of()).status() == 200) {
                chainHolds.add(whileIn(
                        String.valueOf(number), () -> http().send("DELETE", "/api/v1/runs/" + number + "/hold", null)));
            }
        });
    }

    private Span whileIn(String of, Supplier<Http.Answer> end) {
        long begin = now();
        meanwhile.run();
        long until = now();
        // a chain may have ended meanwhile
        assertThat(end.get().status()).isIn(200, 409);
        return new Span(begin, until, of);
    }

    private void widen(String lane, int width) {
        long asked = now();
        http().put("/api/v1/lanes/" + lane + "/width", Map.of("width", width)).expect(200);
        List<Width> all = widths.get(lane);
        // the wider one may count from when it was asked for, the narrower one when it was answered
        boolean wider = width > all.get(all.size() - 1).places;
        all.add(new Width(wider ? asked : now(), width));
    }

    private void cancel() {
        one("waiting,running", run -> true).ifPresent(number -> {
            if (http().post("/api/v1/runs/" + number + "/cancellation", null).status() == 200) {
                cancelled.add(new Span(now(), Long.MAX_VALUE, String.valueOf(number)));
            }
        });
    }

    private void decideOnNextTry() {
        one("waiting", run -> run.has("retryAt")).ifPresent(number -> {
            String path = "/api/v1/runs/" + number + "/next-try";
            if (random.nextBoolean()) {
                hurried.add(number);
                http().post(path, null);
            } else {
                Http.Answer answer = http().send("DELETE", path, null);
                if (answer.status() == 200
                        && !answer.body().path("state").asString().equals("running")) {
                    givenUp.put(number, answer.body().path("attempt").asInt());
                }
            }
        });
    }

    /** Goes on with a chain that has ended. */
    private void takeUp() {
        one("failed,timed-out,cancelled", run -> isChain(run) && !run.has("parent"))
                .ifPresent(number -> {
                    long asked = now();
                    if (http().post("/api/v1/runs/" + number + "/rounds", null).status() == 200) {
                        takenUp.add(number);
                        cancelled.replaceAll(span -> span.of.equals(String.valueOf(number)) && span.end > asked
                                ? new Span(span.begin, asked, span.of)
                                : span);
                    }
                });
    }

    private static boolean isChain(JsonNode run) {
        return run.path("kind").asString().equals("chain");
    }

    private OptionalLong one(String states, Predicate<JsonNode> fits) {
        List<Long> numbers = new ArrayList<>();
        http().get("/api/v1/runs?rows=yes&limit=500&state=" + states)
                .expect(200)
                .body()
                .forEach(run -> {
                    if (fits.test(run)) {
                        numbers.add(run.path("number").asLong());
                    }
                });
        return numbers.isEmpty() ? OptionalLong.empty() : OptionalLong.of(numbers.get(random.nextInt(numbers.size())));
    }

    /** When a run, or what it is a part of, was cancelled and not yet taken up again. */
    List<Span> cancelled(Map<Long, JsonNode> runs, long run) {
        // what comes at the end comes also where its chain was cancelled
        Set<String> line = new HashSet<>();
        JsonNode each = runs.get(run);
        while (each != null) {
            line.add(each.path("number").asString());
            each = each.path("step").asString().equals(MadeUpNight.LAST)
                    ? null
                    : runs.get(each.path("parent").asLong());
        }
        return cancelled.stream().filter(span -> line.contains(span.of)).toList();
    }

    /** Whether a run may have been stopped by something else than its own limit: by people, or with what it is a part of. */
    boolean mayBeStopped(Map<Long, JsonNode> runs, long run) {
        return line(runs, run)
                        .map(runs::get)
                        .anyMatch(each -> stopped.contains(each.path("job").asString())
                                || night.lanesOf(each).stream().anyMatch(stopped::contains)
                                || each.path("number").asLong() != run
                                        && each.path("state").asString().matches("cancelled|timed-out"))
                || wasTakenUp(runs, run)
                || !cancelled(runs, run).isEmpty();
    }

    /** Whether a run, or what it is a part of, was taken up again. */
    boolean wasTakenUp(Map<Long, JsonNode> runs, long run) {
        return line(runs, run).anyMatch(takenUp::contains);
    }

    /** A run, what it is a part of, and so on. */
    private static Stream<Long> line(Map<Long, JsonNode> runs, long run) {
        return Stream.iterate(
                        runs.get(run),
                        Objects::nonNull,
                        each -> each.has("parent")
                                ? runs.get(each.path("parent").asLong())
                                : null)
                .map(each -> each.path("number").asLong());
    }

    private Http http() {
        return admin.get();
    }
}
