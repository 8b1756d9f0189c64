package org.gantrel.service.execution;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/** What earlier steps of a chain left, for those that come after: outputs of the same run of the chain alone. */
@Component
public class StepFiles {

    private static final int SWEEPS = 1_000;

    private final Runs runs;
    private final Settings settings;

    /** Where a sweep stands never changes, and each of its rows asks. */
    private final Cache<Long, Optional<Place>> ofSweeps =
            Caffeine.newBuilder().maximumSize(SWEEPS).build();

    StepFiles(Runs runs, Settings settings) {
        this.runs = runs;
        this.settings = settings;
    }

    /** The number of a run of a chain, and a step of it. */
    private record Place(long chain, String step) {}

    /** A step within a run of its chain. */
    private record At(Run chain, String step) {}

    /**
     * The files that a run's step is given, by the variable that names each to its command.
     *
     * @throws IOException where one is not there; the message is for people
     */
    Map<String, Path> of(Run run) throws IOException {
        Optional<At> at = at(run);
        if (at.isEmpty() || !(runs.jobOf(at.get().chain()) instanceof Job.Chain chain)) {
            return Map.of();
        }
        Map<String, Step.OutputOf> wanted = chain.steps().stream()
                .filter(step -> step.name().equals(at.get().step()))
                .findFirst()
                .map(Step::files)
                .orElse(Map.of());
        Map<String, Path> found = new LinkedHashMap<>();
        for (Map.Entry<String, Step.OutputOf> each : wanted.entrySet()) {
            found.put(
                    Step.FILE_VARIABLE + each.getKey(),
                    output(
                            at.get().chain().number(),
                            each.getValue().step(),
                            each.getValue().name()));
        }
        return found;
    }

    /**
     * An output of an earlier step of the chain that a run is part of.
     *
     * @param run a step's run
     * @throws IOException where there is none; the message is for people
     */
    public Path output(Run run, String step, String name) throws IOException {
        At at = at(run).orElseThrow(
                        () -> new IOException("there is no earlier step '" + step + "' to take an output from"));
        return output(at.chain().number(), step, name);
    }

    /** The row of a sweep stands where its sweep does. */
    private Optional<At> at(Run run) {
        Optional<Place> place = run.isRow()
                ? run.parent().flatMap(sweep -> ofSweeps.get(sweep, this::placeOf))
                : run.parent().map(chain -> new Place(chain, run.step()));
        return place.flatMap(found -> runs.find(found.chain()).map(chain -> new At(chain, found.step())));
    }

    private Optional<Place> placeOf(long sweep) {
        return runs.find(sweep).flatMap(found -> found.parent().map(chain -> new Place(chain, found.step())));
    }

    /** Of a step that ran in several rounds its latest run counts. */
    private Path output(long chain, String step, String name) throws IOException {
        Run before = runs.children(chain).stream()
                .filter(child -> child.step().equals(step) && child.state().isEnded())
                .max(Comparator.comparingLong(Run::number))
                .orElseThrow(() -> new IOException("there is no earlier step '" + step + "' to take an output from"));
        Path outputs = RunFolder.of(settings.runsFolder(), before.number()).outputs();
        Path file = outputs.resolve(name.strip()).normalize();
        if (!file.startsWith(outputs) || file.equals(outputs)) {
            throw new IOException("'" + name + "' is the name of no output");
        }
        return RunFolder.of(settings.runsFolder(), before.number())
                .output(name.strip())
                .orElseThrow(() -> new IOException("the step " + step + " left no output " + outputs.relativize(file)));
    }
}
