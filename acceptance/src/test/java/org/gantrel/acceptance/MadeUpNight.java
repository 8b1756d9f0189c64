package org.gantrel.acceptance;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/** Jobs with rules that are made up: what may go beside what, in which lanes, how often it is tried, and what starts it. */
final class MadeUpNight {

    /**
     * A task.
     *
     * @param sideBySide how many runs of it may go at once, of the same value where they are told apart
     * @param overlap what becomes of one that would have to wait: it does, it is skipped, or it takes the place of the other
     * @param limited whether a try that takes longer than a second is stopped
     * @param gate for what it waits: a file that comes, a job that ends, or nothing
     * @param follows the job whose ends start it; empty where none does
     * @param far whether it runs on another host
     */
    record Task(
            String name,
            int sideBySide,
            Overlap overlap,
            boolean apart,
            Map<String, Integer> lanes,
            int tries,
            boolean limited,
            Gate gate,
            String follows,
            boolean far) {

        int most() {
            return overlap == Overlap.WAITS ? sideBySide : 1;
        }
    }

    enum Overlap {
        WAITS,
        SKIPS,
        REPLACES
    }

    /** @param job the job that has to have ended; empty where it is a file */
    record Gate(boolean file, String job) {}

    private static final Gate NO_GATE = new Gate(false, "");

    static final String VALUES = "abc";

    /** The step of a chain that comes at the end, whatever happened. */
    static final String LAST = "last";

    /** What a definition says of the host; without one, the task runs here. */
    static final String ON_HOST = "acts-as: far\n";

    final Map<String, Integer> lanes = new TreeMap<>();
    final Map<String, Task> tasks = new TreeMap<>();
    final Map<String, Integer> rosters = new TreeMap<>();
    /** The lanes that each chain holds. */
    final Map<String, Map<String, Integer>> chains = new TreeMap<>();
    /** How many runs of each chain may go at once. */
    final Map<String, Integer> chainsAtOnce = new TreeMap<>();

    final List<String> definitions = new ArrayList<>();
    /** What each task was as of each of its revisions. */
    private final Map<String, Map<Integer, Task>> revisions = new HashMap<>();

    private final Random random;

    MadeUpNight(Random random) {
        this.random = random;
        for (int i = 0; i < 3; i++) {
            lanes.put("lane-" + i, random.nextInt(1, 4));
        }
        lanes.forEach((name, width) -> definitions.add("lane: %s\nteam: revenue\nwidth: %d\n".formatted(name, width)));
        for (int i = 0; i < 9; i++) {
            task("task-" + i, i < 6 ? "" : "task-" + random.nextInt(6));
        }
        for (int i = 0; i < 2; i++) {
            roster("roster-" + i);
        }
        for (int i = 0; i < 4; i++) {
            chain("chain-" + i);
        }
    }

    private void task(String name, String follows) {
        var task = new Task(
                name,
                random.nextInt(1, 4),
                Overlap.values()[Math.max(0, random.nextInt(6) - 3)],
                random.nextInt(3) == 0,
                someLanes(),
                random.nextInt(1, 4),
                random.nextInt(3) == 0,
                gate(name),
                follows,
                random.nextInt(4) == 0);
        tasks.put(name, task);
        String overlap =
                switch (task.overlap()) {
                    case WAITS -> String.valueOf(task.sideBySide());
                    case SKIPS -> "skip";
                    case REPLACES -> "replace";
                };
        definitions.add(
                """
                task: %s
                team: revenue
                parameters:
                  k: { type: text, default: a }
                  length: { type: text, default: "0.2" }
                  failures: { type: text, default: "0" }
                  of: { type: text, default: "" }
                does: { command: [ ./work.sh, %s, "${k}", "${length}", "${failures}" ], in: FOLDER }
                while-running: %s
                %slanes: { %s }
                priority: %d
                %s%s%s%s%s"""
                        .formatted(
                                name,
                                name,
                                overlap,
                                task.apart() ? "apart-by: [ k ]\n" : "",
                                yaml(task.lanes()),
                                random.nextInt(1, 10),
                                task.tries() == 1 ? "" : "retry: { tries: %d, wait: 1 s }\n".formatted(task.tries()),
                                task.limited() ? "time-limit: 1 s\n" : "",
                                task.far() ? ON_HOST : "",
                                gates(task.gate()),
                                follows.isEmpty()
                                        ? ""
                                        : "triggers: [ { name: then, on: run.ended, of: %s, with: { of: \"${event.run}\" } } ]\n"
                                                .formatted(follows)));
    }

    private Gate gate(String of) {
        List<String> others =
                tasks.keySet().stream().filter(name -> !name.equals(of)).toList();
        return switch (random.nextInt(5)) {
            case 0 -> new Gate(true, "");
            case 1 -> others.isEmpty() ? NO_GATE : new Gate(false, one(others));
            default -> NO_GATE;
        };
    }

    /** Makes up other rules for a task, which only follows what it followed. @return its definition */
    String change(String name) {
        task(name, tasks.get(name).follows());
        return definitions.get(definitions.size() - 1);
    }

    /** Notes which revision a task has as it is now. */
    void isAt(String name, int revision) {
        revisions.computeIfAbsent(name, key -> new HashMap<>()).put(revision, tasks.get(name));
    }

    /** The lanes that a run takes places in, by its revision. */
    Set<String> lanesOf(JsonNode run) {
        String job = run.path("job").asString();
        return chains.containsKey(job)
                ? chains.get(job).keySet()
                : asOf(job, run.path("revision").asInt()).lanes().keySet();
    }

    /** Whether runs of a task take the place of others as of any of its revisions. */
    boolean hasReplaced(String name) {
        return revisions.get(name).values().stream().anyMatch(task -> task.overlap() == Overlap.REPLACES);
    }

    /** What a task was as of a revision. */
    Task asOf(String name, int revision) {
        return revisions.get(name).get(revision);
    }

    private static String gates(Gate gate) {
        if (gate.equals(NO_GATE)) {
            return "";
        }
        String one = gate.file()
                ? "file: \"FOLDER/came-${k}\", settled: 1 s"
                : "job: " + gate.job() + ", ended: any, since: 12 h";
        return "gates: [ { " + one + " } ]\ngate-patience: { look-every: 1 s, for: 1 min, then: skip }\n";
    }

    private void roster(String name) {
        int atOnce = random.nextInt(1, 5);
        rosters.put(name, atOnce);
        var rows = new ArrayList<String>();
        for (int i = 0; i < random.nextInt(3, 9); i++) {
            rows.add("{ %s }".formatted(yaml(values())));
        }
        definitions.add("roster: %s\nteam: revenue\ncolumns: [ failures, k, length ]\nrows: [ %s ]\nat-once: %d\n"
                .formatted(name, String.join(", ", rows), atOnce));
    }

    private void chain(String name) {
        var steps = new StringBuilder();
        var before = new ArrayList<String>();
        for (int i = 0; i < random.nextInt(2, 5); i++) {
            String step = "step-" + i;
            String after = before.isEmpty() || random.nextInt(3) == 0 ? "[]" : one(before);
            boolean nested = chains.size() > 1 && random.nextInt(4) == 0;
            String work = nested
                    ? "job: " + one(List.copyOf(chains.keySet()))
                    : random.nextInt(4) == 0
                            ? "job: %s, over: %s".formatted(aTask(), one(List.copyOf(rosters.keySet())))
                            : "job: %s, with: { %s }".formatted(aTask(), yaml(values()));
            steps.append("  - { step: %s, %s, after: %s%s }\n"
                    .formatted(step, work, after, after.equals("[]") ? "" : ", on: any"));
            before.add(step);
        }
        Map<String, Integer> held = random.nextBoolean() ? someLanes() : Map.of();
        chains.put(name, held);
        int atOnce = random.nextInt(1, 3);
        String overlap =
                switch (random.nextInt(6)) {
                    case 0 -> "skip";
                    case 1 -> "replace";
                    default -> String.valueOf(atOnce);
                };
        chainsAtOnce.put(name, overlap.matches("\\d") ? atOnce : 1);
        String limit = random.nextInt(4) == 0 ? "time-limit: 8 s\n" : "";
        String last = random.nextInt(3) == 0
                ? "finally:\n  - { step: %s, job: %s, with: { %s } }\n".formatted(LAST, aTask(), yaml(values()))
                : "";
        definitions.add("chain: %s\nteam: revenue\nwhile-running: %s\nlanes: { %s }\n%ssteps:\n%s%s"
                .formatted(name, overlap, yaml(held), limit, steps, last));
    }

    private Map<String, Integer> someLanes() {
        return lanes.keySet().stream()
                .filter(lane -> random.nextInt(3) == 0)
                .collect(Collectors.toMap(
                        Function.identity(), lane -> random.nextInt(1, Math.min(2, lanes.get(lane)) + 1)));
    }

    String aTask() {
        return one(List.copyOf(tasks.keySet()));
    }

    String one(List<String> of) {
        return of.get(random.nextInt(of.size()));
    }

    /** What a run is given: how it counts, how long it takes, and how many of its tries fail. */
    Map<String, String> values() {
        return new TreeMap<>(Map.of(
                "k", String.valueOf(VALUES.charAt(random.nextInt(VALUES.length()))),
                "length", (random.nextInt(8) == 0 ? "1." : "0.") + random.nextInt(1, 9),
                "failures", String.valueOf(random.nextInt(3) == 0 ? random.nextInt(1, 4) : 0)));
    }

    private static String yaml(Map<String, ?> values) {
        return values.entrySet().stream()
                .map(each -> each.getKey() + ": "
                        + (each.getValue() instanceof String text ? "\"" + text + "\"" : each.getValue()))
                .collect(Collectors.joining(", "));
    }
}
