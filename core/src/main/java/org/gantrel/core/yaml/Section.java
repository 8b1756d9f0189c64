package org.gantrel.core.yaml;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.composer.Composer;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import org.snakeyaml.engine.v2.parser.ParserImpl;
import org.snakeyaml.engine.v2.scanner.StreamReader;

/**
 * A mapping of a YAML file while it is being read. Every complaint goes to one list with its line and column, so
 * that a reader is told all that is wrong at once. A value that is wrong reads as if it were not there.
 */
public final class Section {

    private static final int MOST_ENTRIES = 500;
    private static final int LONGEST_LIST = 2_000;
    private static final List<String> NOTHING = List.of("null", "Null", "NULL", "~");

    private final String path;
    private final Node node;
    private final List<Problem> problems;
    private final Map<String, Node> entries = new LinkedHashMap<>();
    private final Map<String, Node> keys = new LinkedHashMap<>();

    private Section(String path, Node node, List<Problem> problems) {
        this.path = path;
        this.node = node;
        this.problems = problems;
    }

    /** Reads a mapping; where the node is something else, says so and reads nothing. */
    public static Section of(String path, Node node, List<Problem> problems) {
        var section = new Section(path, node, problems);
        if (!(node instanceof MappingNode mapping)) {
            section.complain(node, path, "a mapping (key: value) is expected here");
            return section;
        }
        for (NodeTuple tuple : mapping.getValue()) {
            section.put(tuple);
        }
        return section;
    }

    /**
     * Reads the mapping that a text holds; nothing where the text is no YAML, which is added to the problems with its
     * line and column.
     */
    public static Optional<Section> compose(String text, List<Problem> problems) {
        try {
            var settings =
                    LoadSettings.builder().setMaxAliasesForCollections(20).build();
            var parser = new Shallow(new ParserImpl(settings, new StreamReader(settings, text)));
            return new Composer(settings, parser).getSingleNode().map(node -> of("", node, problems));
        } catch (MarkedYamlEngineException e) {
            Optional<Mark> mark = e.getProblemMark();
            problems.add(new Problem(
                    "",
                    mark.map(m -> m.getLine() + 1).orElse(1),
                    mark.map(m -> m.getColumn() + 1).orElse(1),
                    "not YAML: " + e.getProblem()));
        } catch (YamlEngineException e) {
            problems.add(new Problem("", 1, 1, "not YAML: " + e.getMessage()));
        }
        return Optional.empty();
    }

    private void put(NodeTuple tuple) {
        if (!(tuple.getKeyNode() instanceof ScalarNode key)) {
            complain(tuple.getKeyNode(), path, "a key must be a plain word");
        } else if (entries.containsKey(key.getValue())) {
            complain(key, at(key.getValue()), "is given twice");
        } else if (entries.size() >= MOST_ENTRIES) {
            complain(key, path, "too many entries: at most " + MOST_ENTRIES);
        } else {
            entries.put(key.getValue(), tuple.getValueNode());
            keys.put(key.getValue(), key);
        }
    }

    /** Complains of every key but these, each with the known one that it was probably meant to be. */
    public Section knowing(String... known) {
        return knowing(List.of(known), Map.of());
    }

    /**
     * Complains of every key but those that go with what is there.
     *
     * @param words the key that decides what else may stand here, and what may stand beside it
     * @param others what may stand beside other keys that decide, by these
     */
    public Section knowing(List<String> words, Map<String, List<String>> others) {
        keys.forEach((key, keyNode) -> {
            List<String> with = others.entrySet().stream()
                    .filter(other -> other.getValue().contains(key))
                    .map(other -> "'" + other.getKey() + "'")
                    .toList();
            if (!words.contains(key) && !with.isEmpty()) {
                complain(keyNode, at(key), "goes with " + String.join(" or ", with));
            } else if (!words.contains(key)) {
                String near = Nearest.hint(key, words);
                complain(
                        keyNode,
                        at(key),
                        "unknown key" + (near.isEmpty() ? "; known here: " + String.join(", ", words) : near));
            }
        });
        return this;
    }

    public List<String> keys() {
        return List.copyOf(entries.keySet());
    }

    public boolean has(String key) {
        return entries.containsKey(key);
    }

    /** A text of up to so many characters. */
    public Optional<String> text(String key, int longest) {
        Node value = entries.get(key);
        return value == null ? Optional.empty() : text(value, at(key), longest);
    }

    /** A text that has to be there. */
    public String needed(String key, int longest, String meaning) {
        if (!has(key)) {
            complain(node, at(key), "is missing: " + meaning);
        }
        return text(key, longest).orElse("");
    }

    /** A list of texts; a single text stands for a list of one where that is allowed by the field. */
    public List<String> texts(String key, int longest) {
        var texts = new ArrayList<String>();
        for (Node item : items(key)) {
            text(item, at(key), longest).ifPresent(texts::add);
        }
        return texts;
    }

    /** One of a list that may hold texts and mappings: one of the two is there. */
    public record Entry(Optional<String> text, Optional<Section> section) {}

    /** A list of texts and mappings; a single one stands for a list of one. */
    public List<Entry> mixed(String key, int longest) {
        var mixed = new ArrayList<Entry>();
        int index = 0;
        List<Node> items = isList(key)
                ? items(key)
                : Optional.ofNullable(entries.get(key)).stream().toList();
        for (Node item : items) {
            String field = isList(key) ? at(key) + "[" + index++ + "]" : at(key);
            if (item instanceof MappingNode) {
                mixed.add(new Entry(Optional.empty(), Optional.of(of(field, item, problems))));
            } else {
                text(item, at(key), longest)
                        .ifPresent(text -> mixed.add(new Entry(Optional.of(text), Optional.empty())));
            }
        }
        return mixed;
    }

    /** Names with texts, in order. */
    public Map<String, String> map(String key, int longest) {
        var map = new LinkedHashMap<String, String>();
        section(key).ifPresent(section -> section.keys()
                .forEach(name -> section.text(name, longest).ifPresent(text -> map.put(name, text))));
        return map;
    }

    /** Whether something is so; {@code fallback} where nothing is said. */
    public boolean yes(String key, boolean fallback) {
        Optional<String> word = text(key, 60);
        if (word.isEmpty()) {
            return fallback;
        }
        switch (word.get()) {
            case "true", "yes", "on" -> {
                return true;
            }
            case "false", "no", "off" -> {
                return false;
            }
            default -> {
                complain(key, "'" + word.get() + "': yes or no is expected");
                return fallback;
            }
        }
    }

    public Optional<Section> section(String key) {
        Node value = entries.get(key);
        return value == null ? Optional.empty() : Optional.of(of(at(key), value, problems));
    }

    /** The mappings of a list. */
    public List<Section> sections(String key) {
        var sections = new ArrayList<Section>();
        int index = 0;
        for (Node item : items(key)) {
            sections.add(of(at(key) + "[" + index++ + "]", item, problems));
        }
        return sections;
    }

    /** What stands under a key, whatever its shape: maps, lists, texts, numbers, yes or no, and nothing (JSON's types). */
    public Optional<Object> value(String key, int longest) {
        Node value = entries.get(key);
        if (value == null) {
            return Optional.empty();
        }
        int before = problems.size();
        Object read = value(value, at(key), longest);
        return problems.size() > before ? Optional.empty() : Optional.ofNullable(read);
    }

    private Object value(Node value, String field, int longest) {
        if (value instanceof MappingNode) {
            Section section = of(field, value, problems);
            var map = new LinkedHashMap<String, Object>();
            section.entries.forEach((name, node) -> map.put(name, value(node, field + "." + name, longest)));
            return map;
        }
        if (value instanceof SequenceNode sequence) {
            return sequence.getValue().stream()
                    .map(item -> value(item, field, longest))
                    .collect(Collectors.toCollection(ArrayList::new));
        }
        String text = text(value, field, longest).orElse("");
        return ((ScalarNode) value).getScalarStyle() == ScalarStyle.PLAIN ? plain(text) : text;
    }

    /** A scalar without quotes is what JSON would make of it (YAML 1.2.2, 10.2). */
    private static Object plain(String text) {
        return switch (text) {
            case "true", "yes" -> true;
            case "false", "no" -> false;
            case "null", "~", "" -> null;
            default ->
                text.matches("-?(0|[1-9]\\d{0,30})(\\.\\d{1,30})?([eE][-+]?\\d{1,3})?") ? new BigDecimal(text) : text;
        };
    }

    /**
     * Complains of each value that is nothing (YAML 1.2.2, 10.2.1.1), which would be read as the word, but below a key whose
     * values are those of JSON.
     */
    public void refuseNothing(String below) {
        entries.forEach((key, value) -> refuseNothing(value, at(key), below));
    }

    private void refuseNothing(Node value, String field, String below) {
        if (value instanceof MappingNode mapping) {
            mapping.getValue().stream()
                    .filter(tuple -> tuple.getKeyNode() instanceof ScalarNode)
                    .filter(tuple ->
                            !((ScalarNode) tuple.getKeyNode()).getValue().equals(below))
                    .forEach(tuple -> refuseNothing(
                            tuple.getValueNode(), field + "." + ((ScalarNode) tuple.getKeyNode()).getValue(), below));
        } else if (value instanceof SequenceNode sequence) {
            sequence.getValue().forEach(item -> refuseNothing(item, field, below));
        } else if (value instanceof ScalarNode scalar
                && scalar.getScalarStyle() == ScalarStyle.PLAIN
                && NOTHING.contains(scalar.getValue())) {
            complain(
                    value,
                    field,
                    scalar.getValue()
                            + " is no value here: without the key it is as usual, and in quotes it is the word");
        }
    }

    /** Where something stands in a text, in characters from its beginning; {@code to} is not part of it. */
    public record Span(int from, int to) {}

    /** Where this mapping stands. */
    public Span span() {
        return new Span(index(node.getStartMark()), index(node.getEndMark()));
    }

    /** Where a key and its value stand. */
    public Span span(String key) {
        return new Span(
                index(keys.get(key).getStartMark()), index(entries.get(key).getEndMark()));
    }

    private static int index(Optional<Mark> mark) {
        return mark.orElseThrow().getIndex();
    }

    /** Whether a key, or an item of its list such as {@code steps[2]}, is there. */
    public boolean hasAt(String key) {
        return node(key).isPresent();
    }

    /** The mapping at a key or at an item of its list. */
    public Optional<Section> inner(String key) {
        return node(key).filter(MappingNode.class::isInstance).map(found -> of(at(key), found, problems));
    }

    /** A problem where a key or an item of its list stands. */
    public Problem problemAt(String key, String message) {
        return problem(node(key).orElse(node), at(key), message);
    }

    /** A problem of the whole. */
    public Problem problemOf(String message) {
        return problem(node, path, message);
    }

    private Optional<Node> node(String key) {
        int bracket = key.indexOf('[');
        if (bracket < 0) {
            return Optional.ofNullable(entries.get(key));
        }
        int index = Integer.parseInt(key.substring(bracket + 1, key.length() - 1));
        return entries.get(key.substring(0, bracket)) instanceof SequenceNode list
                        && index < list.getValue().size()
                ? Optional.of(list.getValue().get(index))
                : Optional.empty();
    }

    /** Whether a plain text stands under a key. */
    public boolean isText(String key) {
        return node(key).filter(ScalarNode.class::isInstance).isPresent();
    }

    /** Whether a list stands under a key. */
    public boolean isList(String key) {
        return entries.get(key) instanceof SequenceNode;
    }

    /** Complains of a key's value. */
    public void complain(String key, String message) {
        complain(entries.getOrDefault(key, node), at(key), message);
    }

    /** Complains of a key that is not known here. */
    public void unknown(String key, Collection<String> known) {
        complain(keys.getOrDefault(key, node), at(key), "unknown key" + Nearest.hint(key, known));
    }

    /** Passes on problems that were found in the value of a key. */
    public void complain(String key, Collection<Problem> found) {
        found.forEach(problem ->
                complain(entries.getOrDefault(key, node), at(key) + "." + problem.field(), problem.message()));
    }

    private List<Node> items(String key) {
        Node value = entries.get(key);
        if (value == null) {
            return List.of();
        }
        if (!(value instanceof SequenceNode sequence)) {
            complain(value, at(key), "a list is expected here, such as [ a, b ]");
            return List.of();
        }
        if (sequence.getValue().size() > LONGEST_LIST) {
            complain(value, at(key), "too long a list: at most " + LONGEST_LIST);
            return List.of();
        }
        return sequence.getValue();
    }

    private Optional<String> text(Node value, String field, int longest) {
        if (!(value instanceof ScalarNode scalar)) {
            complain(value, field, "a single value is expected here, not a list or a mapping");
            return Optional.empty();
        }
        String text = scalar.getValue();
        if (text.length() > longest) {
            complain(value, field, "too long: " + text.length() + " characters, at most " + longest);
            return Optional.empty();
        }
        if (text.chars().anyMatch(letter -> letter < ' ' && "\t\n\r".indexOf(letter) < 0)) {
            complain(value, field, "holds a control character, which no text may");
            return Optional.empty();
        }
        return Optional.of(text);
    }

    private void complain(Node where, String field, String message) {
        problems.add(problem(where, field, message));
    }

    private static Problem problem(Node where, String field, String message) {
        Optional<Mark> mark = where.getStartMark();
        return new Problem(
                field,
                mark.map(m -> m.getLine() + 1).orElse(0),
                mark.map(m -> m.getColumn() + 1).orElse(0),
                message);
    }

    private String at(String key) {
        return path.isEmpty() ? key : key.isEmpty() ? path : path + "." + key;
    }
}
