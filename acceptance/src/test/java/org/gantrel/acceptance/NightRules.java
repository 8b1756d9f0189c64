package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.gantrel.acceptance.MadeUpNight.Gate;
import org.gantrel.acceptance.MadeUpNight.Task;
import org.gantrel.acceptance.NightBooks.Try;
import org.gantrel.acceptance.NightHands.Width;
import tools.jackson.databind.JsonNode;

/** What must hold of a night, by the books that its commands have kept themselves. */
final class NightRules {

    /** So much may lie between what the service writes down of a chain and what the commands write down of themselves. */
    private static final long SLACK = 30_000_000;
    /** An end is dated by the time of a file, whose clock may stand still for some ticks where the machine is kept from its work. */
    private static final long TICKS = 250_000_000;

    /** Something that takes places for a while, from when it was let. */
    private record Span(long let, long begin, long end, int places, Object who) {}

    private final Supplier<Http> admin;
    private final MadeUpNight night;
    private final NightHands hands;
    private final Map<Long, JsonNode> runs;
    /** When the file came that a gate waits for, by the value in its name. */
    private final Map<String, Long> came;

    private final Map<String, Try> tries = new TreeMap<>();
    private final Map<Try, Long> admitted = new HashMap<>();

    NightRules(
            Supplier<Http> admin,
            MadeUpNight night,
            NightHands hands,
            Map<Long, JsonNode> runs,
            Map<String, Long> came) {
        this.admin = admin;
        this.night = night;
        this.hands = hands;
        this.runs = runs;
        this.came = came;
    }

    /** @param books what each try wrote down of itself */
    void areKept(Map<String, Try> books) {
        tries.putAll(books);
        tries.values().forEach(each -> admitted.put(each, startOf(each)));
        beginsOnce();
        keepsApart();
        fillsNoLane();
        startsWhatFollows();
        waitsForGates();
        keepsHolds();
        endsWhatIsCancelled();
    }

    /** Whether each end has started what follows it. */
    boolean haveFollowed() {
        return night.tasks.values().stream()
                .filter(task -> !task.follows().isEmpty())
                .allMatch(task -> followers(task).size() >= followed(task).size());
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
                    .isLessThanOrEqualTo(
                            hands.givenUp.getOrDefault(number, taskOf(last).tries()));
            for (int i = 1; i < all.size(); i++) {
                Try before = all.get(i - 1);
                assertThat(isTriedAgain(before))
                        .as(() -> before + ": "
                                + admin.get().get("/api/v1/runs/" + number).text())
                        .isTrue();
                if (!hands.hurried.contains(number)) {
                    assertThat(all.get(i).begin - before.end).isGreaterThan(1_000_000_000 - TICKS);
                }
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
        return taskOf(each).far();
    }

    /** The task of a try, as the revision has it that its run keeps to. */
    private Task taskOf(Try of) {
        return night.asOf(of.job, runs.get(of.run).path("revision").asInt());
    }

    /** One that failed, or took longer than it may: it may have ended well as it was stopped. */
    private boolean isTriedAgain(Try each) {
        // the way to the command counts as well: it may be stopped before it has had its time
        boolean tooLong = taskOf(each).limited() && (each.end - each.begin > 1_000_000_000 - TICKS || each.code == 143);
        return each.code == 7 || tooLong;
    }

    /** How a run may end whose last try did so. Whoever is stopped may have ended by itself meanwhile. */
    private List<String> endsAfter(Try last) {
        int code = last.code;
        Task task = taskOf(last);
        List<String> ends = new ArrayList<>();
        if (code != 143) {
            ends.add(code == 0 ? "succeeded" : "failed");
        }
        // a later run takes its place by the rules of its own revision
        if (night.hasReplaced(last.job) || hands.mayBeStopped(runs, last.run)) {
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

    /** Something of a task as of one of its revisions that goes for a while. */
    private record Goes(Task task, String value, Span span) {

        /** Whether two count together: no value keeps them apart that both are told apart by. */
        private boolean meets(Goes other) {
            return !task.apart() || !other.task.apart() || value.equals(other.value);
        }
    }

    /** No more runs of a job together than may be; the rows of a sweep count as one, unless values tell them apart. */
    private void keepsApart() {
        for (String name : night.tasks.keySet()) {
            List<Goes> all = going(name);
            for (Goes begun : all) {
                List<Span> like = all.stream()
                        .filter(each -> each.task.equals(begun.task) && each.meets(begun))
                        .map(Goes::span)
                        .toList();
                assertThat(beside(begun.span, like)).as("%s: %s", begun, like).isLessThanOrEqualTo(begun.task.most());
                // one of another revision that was let later goes by that
                List<Span> before = all.stream()
                        .filter(each -> each.span.let < begun.span.let && each.meets(begun))
                        .map(Goes::span)
                        .toList();
                assertThat(beside(begun.span, before))
                        .as("%s: %s", begun, before)
                        .isLessThan(begun.task.most());
            }
        }
        night.chainsAtOnce.forEach((chain, atOnce) -> most(
                runs.values().stream()
                        .filter(run -> run.path("job").asString().equals(chain) && run.has("startedAt"))
                        // one that was taken up again went with a gap
                        .filter(run ->
                                !hands.wasTakenUp(runs, run.path("number").asLong()))
                        .map(run -> span(run, 1))
                        .toList(),
                atOnce,
                chain));
        rowsGoTogether();
    }

    /** When a chain went, as the service says it. */
    private static Span span(JsonNode run, int places) {
        return new Span(
                nanos(run, "startedAt"),
                nanos(run, "startedAt") + SLACK,
                nanos(run, "finishedAt") - SLACK,
                places,
                run.path("number").asLong());
    }

    private List<Goes> going(String name) {
        List<Goes> all = new ArrayList<>();
        Map<Long, List<Try>> sweeps = new HashMap<>();
        for (Try each : tries.values()) {
            if (each.job.equals(name)) {
                JsonNode run = runs.get(each.run);
                if (run.path("cause").asString().equals("sweep")
                        && !taskOf(each).apart()) {
                    sweeps.computeIfAbsent(run.path("parent").asLong(), key -> new ArrayList<>())
                            .add(each);
                } else {
                    all.add(new Goes(taskOf(each), each.value, span(each, 1, each.run)));
                }
            }
        }
        sweeps.forEach((sweep, rows) -> all.add(new Goes(
                taskOf(rows.get(0)),
                "",
                new Span(
                        nanos(runs.get(sweep), "startedAt"),
                        rows.stream().mapToLong(row -> row.begin).min().getAsLong(),
                        rows.stream().mapToLong(row -> row.end).max().getAsLong(),
                        1,
                        sweep))));
        return all;
    }

    private void rowsGoTogether() {
        Map<Long, List<Span>> rows = tries.values().stream()
                .filter(each -> runs.get(each.run).path("cause").asString().equals("sweep"))
                .collect(Collectors.groupingBy(
                        each -> runs.get(each.run).path("parent").asLong(),
                        Collectors.mapping(each -> span(each, 1, each.run), Collectors.toList())));
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
                int places = taskOf(each).lanes().getOrDefault(lane, 0);
                if (places > 0 && !isHeldAround(runs.get(each.run), lane)) {
                    spans.add(span(each, places, each.run));
                }
            }
            for (JsonNode run : runs.values()) {
                int places = run.path("kind").asString().equals("chain")
                        ? night.chains.get(run.path("job").asString()).getOrDefault(lane, 0)
                        : 0;
                // one that was taken up again held it with a gap
                if (places > 0
                        && run.has("startedAt")
                        && !isHeldAround(run, lane)
                        && !hands.wasTakenUp(runs, run.path("number").asLong())) {
                    spans.add(span(run, places));
                }
            }
            fillNoMore(spans, lane);
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
            Gate gate = taskOf(each).gate();
            if (gate.file()) {
                assertThat(each.begin).as("run " + each.run).isGreaterThan(came.get(each.value));
            } else if (!gate.job().isEmpty()) {
                assertThat(ended).as("run " + each.run).containsKey(gate.job());
                assertThat(each.begin).as("run " + each.run).isGreaterThan(ended.get(gate.job()) - TICKS);
            }
        }
    }

    /** Nothing of what is cancelled begins any more but what was on its way, until it is taken up again. */
    private void endsWhatIsCancelled() {
        tries.values().forEach(each -> beginsOutside(each, hands.cancelled(runs, each.run)));
    }

    /** Nothing of a job begins while it is held or one of its lanes is closed but what was on its way, and no step of a held chain. */
    private void keepsHolds() {
        for (Try each : tries.values()) {
            JsonNode run = runs.get(each.run);
            beginsOutside(each, of(hands.holds, each.job));
            taskOf(each).lanes().keySet().stream()
                    .filter(lane -> !isHeldAround(run, lane))
                    .forEach(lane -> {
                        beginsOutside(each, of(hands.closures, lane));
                        beginsOutside(each, of(hands.holds, lane));
                    });
        }
        runs.values().forEach(run -> of(hands.chainHolds, run.path("parent").asString())
                .forEach(hold -> assertThat(nanos(run, "queuedAt"))
                        .as("%s, its chain held in %s", run, hold)
                        .matches(at -> at <= hold.begin() || at >= hold.end())));
    }

    private static List<NightHands.Span> of(List<NightHands.Span> spans, String what) {
        return spans.stream().filter(span -> span.of().equals(what)).toList();
    }

    private void beginsOutside(Try each, List<NightHands.Span> spans) {
        spans.stream()
                .filter(span -> each.begin > span.begin() && each.begin < span.end())
                .forEach(span -> assertThat(admitted.get(each))
                        .as("%s in %s", each, span)
                        .isLessThan(span.begin()));
    }

    /** When the service let a try begin, as it says itself. */
    private long startOf(Try each) {
        JsonNode run = admin.get().get("/api/v1/runs/" + each.run).body();
        JsonNode attempts = run.path("attempts");
        return nanos(attempts.isEmpty() ? run : attempts.get(each.number - 1), "startedAt");
    }

    private static long nanos(JsonNode run, String field) {
        return NightHands.nanos(Instant.parse(run.path(field).asString()));
    }

    private Span span(Try each, int places, Object who) {
        return new Span(admitted.get(each), each.begin, each.end, places, who);
    }

    private static void most(List<Span> spans, int places, Object what) {
        for (Span begun : spans) {
            assertThat(beside(begun, spans)).as("%s: %s", what, spans).isLessThanOrEqualTo(places);
        }
    }

    /** Nothing begins where it is too much for the width that the lane had when it was let. */
    private void fillNoMore(List<Span> spans, String lane) {
        List<Width> widths = hands.widths.get(lane);
        for (Span begun : spans) {
            int widest = 0;
            for (int i = 0; i < widths.size(); i++) {
                boolean over = i + 1 < widths.size() && widths.get(i + 1).since() < begun.let();
                if (!over && widths.get(i).since() <= begun.begin()) {
                    widest = Math.max(widest, widths.get(i).places());
                }
            }
            assertThat(beside(begun, spans))
                    .as("%s of %s: %s", begun, lane, widths)
                    .isLessThanOrEqualTo(widest);
        }
    }

    /** How many places are taken when something has begun. */
    private static int beside(Span begun, List<Span> spans) {
        return spans.stream()
                .filter(each -> each.begin <= begun.begin && each.end > begun.begin)
                .mapToInt(Span::places)
                .sum();
    }
}
