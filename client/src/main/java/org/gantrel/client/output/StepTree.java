package org.gantrel.client.output;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/**
 * The steps of a chain as a tree in text. Each step hangs from the step that it follows; one that follows several hangs
 * from the last of them and names the others. Those at the very end stand below.
 */
public final class StepTree {

    private static final int WIDEST = 34;

    private final List<JsonNode> steps;
    private final Map<String, List<JsonNode>> below = new LinkedHashMap<>();
    private final List<String> lines = new ArrayList<>();
    private final Printer printer;

    /** @param steps as the service tells them of a job or of a run */
    public StepTree(JsonNode steps, Printer printer) {
        this.steps = steps.valueStream().toList();
        this.printer = printer;
    }

    /** The lines of the tree. */
    public List<String> lines() {
        Map<String, Integer> depths = depths();
        Map<String, JsonNode> byName = steps.stream().collect(Collectors.toMap(StepTree::name, step -> step));
        for (JsonNode step : steps) {
            String from = after(step).stream()
                    .filter(byName::containsKey)
                    .filter(name -> isLast(byName.get(name)) == isLast(step))
                    .max((one, other) -> Integer.compare(depths.get(one), depths.get(other)))
                    .orElse(isLast(step) ? " last" : "");
            below.computeIfAbsent(from, key -> new ArrayList<>()).add(step);
        }
        List<JsonNode> first = below.getOrDefault("", List.of());
        first.forEach(step -> add(step, "", ""));
        if (below.containsKey(" last")) {
            lines.add("at the end, whatever happened");
            below.get(" last").forEach(step -> add(step, "", ""));
        }
        return lines;
    }

    private static String name(JsonNode step) {
        return step.path("step").asString();
    }

    private static boolean isLast(JsonNode step) {
        return step.path("last").asBoolean(false);
    }

    private static List<String> after(JsonNode step) {
        return step.path("after").valueStream().map(JsonNode::asString).toList();
    }

    /** How far each step is from the beginning. */
    private Map<String, Integer> depths() {
        Map<String, Integer> depths = new HashMap<>();
        Map<String, JsonNode> byName = steps.stream().collect(Collectors.toMap(StepTree::name, step -> step));
        steps.forEach(step -> depth(name(step), byName, depths, new HashSet<>()));
        return depths;
    }

    private static int depth(
            String name, Map<String, JsonNode> byName, Map<String, Integer> depths, Set<String> under) {
        Integer known = depths.get(name);
        if (known != null || !byName.containsKey(name) || !under.add(name)) {
            return known == null ? 0 : known;
        }
        int depth = 0;
        for (String before : after(byName.get(name))) {
            depth = Math.max(depth, depth(before, byName, depths, under) + 1);
        }
        depths.put(name, depth);
        return depth;
    }

    private void add(JsonNode step, String indent, String branch) {
        String title = indent + branch + name(step);
        lines.add((title + " ".repeat(Math.max(1, WIDEST - title.length())) + about(step)).stripTrailing());
        List<JsonNode> next = below.getOrDefault(name(step), List.of());
        String deeper = indent + (branch.isEmpty() ? "" : branch.startsWith("└") ? "   " : "│  ");
        for (int i = 0; i < next.size(); i++) {
            add(next.get(i), deeper, i + 1 == next.size() ? "└─ " : "├─ ");
        }
    }

    private String about(JsonNode step) {
        String state = step.path("state").asString("");
        String links = links(step);
        if (state.isEmpty()) {
            return join(step.path("does").asString(""), links, "; ");
        }
        String run = step.path("run").has("number")
                ? "run " + step.path("run").path("number").asString()
                : "";
        int turns = step.path("turn").asInt(0);
        String took = Times.duration(step.path("run"), "took");
        boolean settled = !state.equals("pending");
        String message = step.path("message").asString("");
        boolean job = step.path("kind").asString("job").matches("job|sweep");
        boolean said = !message.isEmpty() && !(job && state.equals("succeeded"));
        String facts = join(join(run, turns > 1 ? turns + " times" : "", ", "), took, "  ");
        return printer.state(state)
                + " ".repeat(Math.max(1, 14 - state.length()))
                + join(facts, said ? message : settled ? "" : links, "  ");
    }

    /** What the tree itself does not say of what leads to a step. */
    private static String links(JsonNode step) {
        boolean plain = after(step).size() < 2
                && step.path("links").path(0).path("when").asString("").isEmpty();
        if (!plain) {
            return step.path("linksInWords").asString("");
        }
        String on = step.path("links").path(0).path("on").asString("success");
        boolean usual = after(step).isEmpty() || on.equals(isLast(step) ? "any" : "success");
        String when = step.path("when").asString("");
        return join(usual ? "" : "on " + on, when.isEmpty() ? "" : "where " + when, " ");
    }

    private static String join(String one, String other, String between) {
        return one.isEmpty() || other.isEmpty() ? one + other : one + between + other;
    }
}
