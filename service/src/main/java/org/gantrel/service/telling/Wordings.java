package org.gantrel.service.telling;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.service.run.Run;

/** What the templates of wordings may name. */
public final class Wordings {

    /** The names, in the order in which people are told of them. */
    public static final List<String> NAMES = List.of(
            "subject",
            "sentence",
            "job",
            "run",
            "state",
            "message",
            "planned",
            "started",
            "ended",
            "exit_code",
            "starter",
            "values",
            "results",
            "facts",
            "name",
            "label",
            "value",
            "hasLines",
            "lines",
            "hasItems",
            "items",
            "link",
            "linkText",
            "why");

    private Wordings() {}

    /**
     * The values.
     *
     * @param said what the usual words are made from
     * @param run the run, where whoever reads it may see it; its secrets are masked
     */
    public static Map<String, Object> values(Map<String, Object> said, Optional<Run> run, String job) {
        Map<String, Object> values = new LinkedHashMap<>(said);
        values.put("job", job);
        run.ifPresent(each -> {
            values.put("run", String.valueOf(each.number()));
            values.put("state", each.state().word().replace('-', ' '));
            values.put("message", each.message());
            values.put("planned", each.plannedAt().toString());
            values.put("started", each.startedAt().map(Object::toString).orElse(""));
            values.put("ended", each.finishedAt().map(Object::toString).orElse(""));
            values.put("exit_code", each.exitCode().map(String::valueOf).orElse(""));
            values.put("starter", each.starter());
            values.put("values", new LinkedHashMap<String, Object>(each.parameters()));
            values.put("results", new LinkedHashMap<String, Object>(each.results()));
        });
        return values;
    }
}
