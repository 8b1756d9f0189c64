package org.gantrel.service.run;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.sweep.SharedValues;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.when.DaySet;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.credential.SealedValues;
import org.gantrel.service.secret.Seal;
import org.springframework.stereotype.Component;

/** The values of runs: worked out at the start, kept, sealed where they are secret, and opened for those who do the work. */
@Component
public class RunValues implements SealedValues {

    public static final String MASK = "••••••";

    private static final ValuesColumn JSON = new ValuesColumn();

    private final Calendars calendars;
    private final Seal seal;
    private final RunStore store;

    RunValues(Calendars calendars, Seal seal, RunStore store) {
        this.calendars = calendars;
        this.seal = seal;
        this.store = store;
    }

    /**
     * The values of a start. Those that a schedule presets may hold expressions; what a person gives is taken as it is.
     *
     * @throws InvalidException where a value is unknown, missing or wrong
     */
    public Map<String, String> resolve(Job job, Map<String, String> given, CauseKind cause, PlannedTime at) {
        PlannedTime planned = at.knowing(this::openDays);
        return job.parameters().resolve(given(given, cause, planned), planned);
    }

    /**
     * The values of a start over a roster that all its rows share, by the same rule.
     *
     * @throws InvalidException where a value is unknown or wrong; those that are missing may stand in the rows
     */
    Map<String, String> preset(Job job, Map<String, String> given, CauseKind cause, PlannedTime at) {
        return job.parameters().preset(given(given, cause, at.knowing(this::openDays)));
    }

    private static Map<String, String> given(Map<String, String> given, CauseKind cause, PlannedTime planned) {
        return cause == CauseKind.SCHEDULE ? filled(given, new Bindings(Map.of(), planned)) : given;
    }

    /** What the defaults are for a start at a time. */
    Map<String, Parameters.Default> defaults(Job job, PlannedTime at) {
        return job.parameters().defaultsAt(at.knowing(this::openDays));
    }

    /**
     * The values that a step gives its job, worked out from those of the chain.
     *
     * @throws InvalidException where one cannot be worked out
     */
    public Map<String, String> of(Step step, Run chain) {
        return of(step, known(chain));
    }

    /** The same from what is known of the chain and of the steps before. */
    public Map<String, String> of(Step step, Bindings known) {
        return filled(step.with(), known);
    }

    /** Values sealed, secret or not. */
    public String sealAll(Map<String, String> all) {
        return seal.seal(JSON.convertToDatabaseColumn(all));
    }

    /** What was sealed so. */
    public Map<String, String> openAll(String sealed) {
        return sealed.isEmpty() ? Map.of() : JSON.convertToEntityAttribute(seal.open(sealed));
    }

    private static Map<String, String> filled(Map<String, String> texts, Bindings known) {
        var filled = new LinkedHashMap<String, String>();
        return known.together(() -> {
            texts.forEach((name, text) -> {
                try {
                    filled.put(name, known.fill(text));
                } catch (ExpressionException e) {
                    throw new InvalidException(name, e.getMessage());
                }
            });
            return filled;
        });
    }

    private DaySet openDays(String calendar) {
        return calendars
                .days(calendar)
                .orElseThrow(() -> new ExpressionException(
                        "there is no calendar '" + calendar + "'" + Nearest.hint(calendar, calendars.names())));
    }

    /** What the texts of a run's definition are filled from: all its values, secrets opened, and its planned time. */
    public Bindings known(Run run) {
        return known(open(run), run.planned());
    }

    /** The same of any run of a job: of one over a roster what is known before its rows give the rest. */
    public Bindings known(Job job, Run run) {
        return run.isSweep() ? shared(job, open(run), run.planned()) : known(run);
    }

    /** What everybody may see of that, secrets masked. */
    public Bindings shown(Job job, Run run) {
        return run.isSweep() ? shared(job, run.parameters(), run.planned()) : known(run.parameters(), run.planned());
    }

    /** What is known of a start over a roster before its rows give the rest. */
    private Bindings shared(Job job, Map<String, String> given, PlannedTime at) {
        PlannedTime planned = at.knowing(this::openDays);
        return new Bindings(job.parameters().known(given, Set.of(), planned), planned);
    }

    /** What the rows of a sweep have in common. @param columns what they are known to give */
    public SharedValues shared(Job job, Run sweep, Optional<List<String>> columns) {
        return SharedValues.of(
                job.parameters(), open(sweep), columns, sweep.planned().knowing(this::openDays));
    }

    /** The same for values that no run has yet. */
    public Bindings known(Map<String, String> values, PlannedTime planned) {
        return new Bindings(values, planned.knowing(this::openDays));
    }

    /** All values, secrets opened: for the executor alone, and for masking. */
    public Map<String, String> open(Run run) {
        var values = new LinkedHashMap<>(run.parameters());
        values.putAll(secrets(run));
        return values;
    }

    /** The secret values of a run, for masking. */
    public Map<String, String> secrets(Run run) {
        return JSON.convertToEntityAttribute(seal.open(run.sealed().text()));
    }

    /** All values as one JSON object, secrets opened: for the executor alone. */
    public String asJson(Run run) {
        return JSON.convertToDatabaseColumn(open(run));
    }

    @Override
    public int sealAgain() {
        int sealed = 0;
        long after = 0;
        List<Long> batch = store.sealedAfter(after, org.springframework.data.domain.Limit.of(200));
        while (!batch.isEmpty()) {
            for (Long number : batch) {
                sealed += sealAgain(number);
            }
            after = batch.get(batch.size() - 1);
            batch = store.sealedAfter(after, org.springframework.data.domain.Limit.of(200));
        }
        return sealed;
    }

    /** Replaces the seal where it is still the one that was opened; it stands apart from where the run is. */
    private int sealAgain(long number) {
        String before = store.sealedOf(number);
        return store.sealAgain(number, before, seal.seal(seal.open(before)));
    }

    static Map<String, String> shown(Job job, Map<String, String> values) {
        var shown = new LinkedHashMap<>(values);
        for (Parameter parameter : job.parameters().all()) {
            if (parameter.isSecret()) {
                shown.computeIfPresent(parameter.name(), (name, value) -> MASK);
            }
        }
        return shown;
    }

    String sealed(Job job, Map<String, String> values) {
        var secrets = new LinkedHashMap<>(values);
        var names = new ArrayList<>(secrets.keySet());
        names.removeIf(
                name -> job.parameters().named(name).filter(Parameter::isSecret).isPresent());
        names.forEach(secrets::remove);
        return seal.seal(JSON.convertToDatabaseColumn(secrets));
    }
}
