package org.gantrel.core.definition;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.access.Role;
import org.gantrel.core.action.Request;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Leftovers;
import org.gantrel.core.job.Step;
import org.gantrel.core.notification.NotificationRule;
import org.gantrel.core.parameter.ParameterType;
import org.gantrel.core.run.Emptiness;
import org.gantrel.core.schedule.Shift;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;

/** The words of definitions with what each is for, for editors that complete and explain them. */
public final class DefinitionWords {

    /**
     * A key that may stand at a place.
     *
     * @param values the words it takes, where it takes only some; empty otherwise
     */
    public record Word(String word, String help, List<String> values) {}

    /** Keys that take only some words, wherever they stand. */
    private static final Map<String, List<String>> VALUES = Map.of(
            "type", ParameterType.words(),
            "leftovers", Leftovers.words(),
            "after-failure", RosterForm.AFTER,
            "when-empty", Emptiness.words(),
            "urgency", NotificationRule.Urgency.words(),
            "shift", Shift.words(),
            "method", Request.METHODS,
            "mode", TableForm.MODES,
            "role", Role.IN_TEAM.stream().map(Role::word).toList(),
            "that", Step.Which.words());

    private static final Map<String, List<Word>> ALL = read();

    private DefinitionWords() {}

    /**
     * The keys that may stand at each place. A place is the keys above, such as {@code task} and {@code task.schedules};
     * names that people give are a star, and {@code task.does+request} has the keys that may stand beside {@code request};
     * the empty place has the kinds of definitions.
     */
    public static Map<String, List<Word>> all() {
        return ALL;
    }

    private static Map<String, List<Word>> read() {
        Map<String, List<Word>> all = new LinkedHashMap<>();
        resource("words.yaml")
                .forEach((place, keys) ->
                        all.put(String.valueOf(place), words(String.valueOf(place), (Map<?, ?>) keys)));
        all.put(
                "",
                DefinitionReader.KINDS.stream()
                        .map(kind -> new Word(kind, "Begins a " + kind + "; what follows is its name.", List.of()))
                        .toList());
        return Collections.unmodifiableMap(all);
    }

    /** A mapping in YAML that stands beside this class. */
    static Map<?, ?> resource(String name) {
        try (InputStream in = DefinitionWords.class.getResourceAsStream(name)) {
            return (Map<?, ?>) new Load(LoadSettings.builder().build()).loadFromInputStream(in);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static List<Word> words(String place, Map<?, ?> keys) {
        return keys.entrySet().stream()
                .map(entry -> word(place, String.valueOf(entry.getKey()), entry.getValue()))
                .toList();
    }

    private static Word word(String place, String key, Object said) {
        if (said instanceof List<?> parts) {
            return new Word(
                    key,
                    String.valueOf(parts.get(0)),
                    parts.stream().skip(1).map(String::valueOf).toList());
        }
        if (key.equals("on") && place.endsWith(".triggers")) {
            return new Word(key, String.valueOf(said), EventType.words());
        }
        if (key.equals("files") && place.startsWith("task.does")) {
            return new Word(key, String.valueOf(said), FilesForm.DEEDS);
        }
        return new Word(key, String.valueOf(said), VALUES.getOrDefault(key, List.of()));
    }
}
