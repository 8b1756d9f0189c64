package org.gantrel.service.trigger;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.event.EventType;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.trigger.Trigger;
import org.gantrel.service.journal.Event;
import org.gantrel.service.run.Run;

/** What conditions and values can say of an event. */
final class EventFacts {

    /** Where an event carries values of its own, such as the fields of a call's JSON. */
    static final String VALUES = "values";

    private EventFacts() {}

    /** @param run the run that it tells of */
    static StepFacts of(Event event, EventType type, Optional<Run> run) {
        StepFacts.Fact fact = fact(event, type, run);
        return alias -> alias.equals(Trigger.EVENT) ? Optional.of(fact) : Optional.empty();
    }

    private static StepFacts.Fact fact(Event event, EventType type, Optional<Run> run) {
        return new StepFacts.Fact(
                String.valueOf(event.about().getOrDefault("state", "")),
                run.map(Run::number),
                run.flatMap(Run::exitCode),
                run.flatMap(Run::startedAt),
                run.flatMap(Run::finishedAt),
                run.map(Run::results).orElseGet(() -> values(event)),
                Map.of(),
                new StepFacts.Details(details(event, type, run), type.kinds()));
    }

    /** What an event says, by the names that its type gives to it. */
    static Map<String, String> details(Event event, EventType type, Optional<Run> run) {
        Map<String, Object> known = new HashMap<>(event.about());
        known.put("id", event.position());
        known.put("type", type.word());
        known.put("at", event.at());
        known.put("team", event.team());
        run.ifPresent(each -> {
            known.put("run", each.number());
            known.putIfAbsent("person", each.starter());
            known.putIfAbsent("message", each.message());
        });
        if (event.run() != null) {
            known.putIfAbsent("run", event.run());
        }
        Map<String, String> details = new LinkedHashMap<>();
        type.fields().forEach(field -> Optional.ofNullable(known.get(field.name()))
                .ifPresent(value -> details.put(field.name(), String.valueOf(value))));
        return details;
    }

    private static Map<String, String> values(Event event) {
        Map<String, String> values = new LinkedHashMap<>();
        if (event.about().get(VALUES) instanceof Map<?, ?> given) {
            given.forEach((name, value) -> values.put(String.valueOf(name), String.valueOf(value)));
        }
        return values;
    }
}
