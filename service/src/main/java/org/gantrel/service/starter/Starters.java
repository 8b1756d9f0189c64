package org.gantrel.service.starter;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.yaml.Section;
import org.gantrel.service.refusal.Refusal;
import org.springframework.stereotype.Component;

/** Ready-made definitions with a few blanks to fill. */
@Component
class Starters {

    private static final int LONGEST = 20_000;
    private static final int LONGEST_VALUE = 2_000;

    private static final Pattern LIST = Pattern.compile("<<([a-z]+)\\|(.+?)>>");

    /** @param example a value that shows what is meant */
    record Blank(String name, String about, String example) {}

    record Starter(String name, String about, List<Blank> blanks, String definition) {}

    private final List<Starter> all;

    Starters() throws IOException {
        try (InputStream in = Starters.class.getResourceAsStream("/starters/starters.yaml")) {
            var problems = new ArrayList<Problem>();
            all = Section.compose(new String(in.readAllBytes(), StandardCharsets.UTF_8), problems)
                    .map(section -> section.sections("starters").stream()
                            .map(Starters::read)
                            .toList())
                    .orElseThrow(() -> new InvalidException(problems));
        }
    }

    private static Starter read(Section form) {
        var blanks = new ArrayList<Blank>();
        form.section("blanks").ifPresent(section -> section.keys().forEach(name -> section.section(name)
                .ifPresent(blank -> blanks.add(new Blank(
                        name,
                        blank.text("about", 300).orElse(""),
                        blank.text("example", 1_000).orElse(""))))));
        return new Starter(
                form.needed("name", 60, "its name"),
                form.needed("about", 300, "what it is for"),
                blanks,
                form.needed("definition", LONGEST, "the definitions"));
    }

    List<Starter> all() {
        return all;
    }

    /**
     * The definitions with their blanks filled. A blank that stands as {@code <<fields|form>>} is a list of names: each is put in
     * the place of the star in the form.
     *
     * @param zone the zone that their schedules are meant in
     * @throws InvalidException naming every blank that is missing, unknown or too long, and all that is wrong with the
     *     definitions that come of it
     */
    String fill(String name, Map<String, String> given, ZoneId zone) {
        Starter starter = all.stream()
                .filter(each -> each.name().equals(name))
                .findFirst()
                .orElseThrow(() -> Refusal.notFound("there is no starter '" + name + "'"
                        + Nearest.hint(name, all.stream().map(Starter::name).toList())));
        List<String> names = starter.blanks().stream().map(Blank::name).toList();
        var problems = new ArrayList<Problem>();
        given.keySet().stream()
                .filter(blank -> !names.contains(blank))
                .forEach(blank ->
                        problems.add(Problem.of(blank, "the starter has no such blank" + Nearest.hint(blank, names))));
        var values = new LinkedHashMap<String, String>();
        for (Blank blank : starter.blanks()) {
            String value = given.getOrDefault(blank.name(), "").strip();
            if (value.isEmpty()) {
                problems.add(Problem.of(blank.name(), "is missing: " + blank.about() + ", such as " + blank.example()));
            } else if (value.length() > LONGEST_VALUE || value.contains("\n")) {
                problems.add(Problem.of(blank.name(), "one line of at most " + LONGEST_VALUE + " characters"));
            }
            values.put(blank.name(), value);
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        String text = lists(starter.definition(), values).replace("<<zone>>", zone.getId());
        for (Map.Entry<String, String> value : values.entrySet()) {
            String plain = value.getValue();
            text = text.replace("\"<<" + value.getKey() + ">>\"", quoted(plain))
                    .replace("<<" + value.getKey() + ">>", plain);
        }
        DefinitionReader.read(text);
        return text;
    }

    private static String lists(String definition, Map<String, String> values) {
        Matcher lists = LIST.matcher(definition);
        var text = new StringBuilder();
        while (lists.find()) {
            List<String> items = Arrays.stream(values.get(lists.group(1)).split(","))
                    .map(String::strip)
                    .toList();
            List<String> wrong =
                    items.stream().filter(item -> !item.matches(Parameter.NAME)).toList();
            if (!wrong.isEmpty()) {
                throw new InvalidException(
                        lists.group(1),
                        "'" + wrong.get(0) + "' is no name of a field: small letters, digits and underscores");
            }
            String filled = items.stream()
                    .map(item -> lists.group(2).replace("*", item))
                    .collect(Collectors.joining(", "));
            lists.appendReplacement(text, Matcher.quoteReplacement(filled));
        }
        return lists.appendTail(text).toString();
    }

    private static String quoted(String value) {
        return "\"" + value.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
    }
}
