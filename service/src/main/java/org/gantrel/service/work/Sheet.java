package org.gantrel.service.work;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.core.job.Job;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.service.execution.Mask;
import org.gantrel.service.work.ActionExecutor.Rehearsed;

/** What a rehearsal writes down: lines, those of a chain's steps under their names, and no secret among them. */
final class Sheet {

    /** Chains within chains may have more steps than anyone reads. */
    private static final int LONGEST = 1_000;

    /** @param step the names of the steps that lead to it, with dots between; empty for what belongs to the job itself */
    record Line(String step, Rehearsed found) {}

    private final List<Line> lines;
    private final List<String> secrets;
    private final String path;

    private final boolean asked;

    /** @param asked whether programs are asked for their versions */
    Sheet(boolean asked) {
        this(new ArrayList<>(), new ArrayList<>(), "", asked);
    }

    private Sheet(List<Line> lines, List<String> secrets, String path, boolean asked) {
        this.asked = asked;
        this.lines = lines;
        this.secrets = secrets;
        this.path = path;
    }

    /** The same sheet, for what belongs to a step. */
    Sheet under(String step) {
        return new Sheet(lines, secrets, path.isEmpty() ? step : path + "." + step, asked);
    }

    boolean isAsked() {
        return asked;
    }

    void does(String what, String text) {
        add(Rehearsed.does(what, text));
    }

    void wrong(String what, String text) {
        add(Rehearsed.wrong(what, text));
    }

    void untried(String what, String why) {
        add(Rehearsed.untried(what, why));
    }

    void add(Rehearsed line) {
        lines.add(new Line(path, line));
    }

    /** Covers the values of a job's secret parameters wherever they stand. */
    void hide(Job job, Map<String, String> values) {
        job.parameters().all().stream()
                .filter(Parameter::isSecret)
                .map(parameter -> values.getOrDefault(parameter.name(), ""))
                .forEach(secrets::add);
    }

    boolean isFull() {
        return lines.size() >= LONGEST;
    }

    boolean hasWrong() {
        return lines.stream().anyMatch(line -> line.found().kind() == Rehearsed.Kind.WRONG);
    }

    List<Line> lines() {
        Mask mask = Mask.of(secrets);
        return lines.stream()
                .map(line -> new Line(line.step(), covered(line.found(), mask)))
                .toList();
    }

    private static Rehearsed covered(Rehearsed found, Mask mask) {
        return new Rehearsed(found.kind(), found.what(), mask.over(found.text()));
    }
}
