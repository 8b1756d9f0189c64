package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.gantrel.core.job.Outputs;
import org.gantrel.core.job.Outputs.Output;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.ExitRule;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.run.OutcomeRule.ErrorStream;
import org.gantrel.core.text.SafePattern;
import org.gantrel.core.yaml.Section;

/** Reads what counts as a failure, and what is kept of that which a task leaves behind. */
final class OutcomeForm {

    private static final List<String> STREAM_WORDS =
            Stream.of(ErrorStream.values()).map(ErrorStream::word).toList();

    private OutcomeForm() {}

    static OutcomeRule read(Section section) {
        ExitRule exit = exitRule(section);
        Optional<Section> form = section.section("outcome");
        if (form.isEmpty()) {
            return new OutcomeRule(exit, List.of(), List.of(), ErrorStream.ALLOWED, "");
        }
        form.get().knowing("failed-by", "warned-by", "error-stream", "test-results");
        return new OutcomeRule(
                exit,
                patterns(form.get(), "failed-by"),
                patterns(form.get(), "warned-by"),
                CommonForm.word(form.get(), "error-stream", STREAM_WORDS)
                        .map(word -> ErrorStream.values()[STREAM_WORDS.indexOf(word)])
                        .orElse(ErrorStream.ALLOWED),
                form.get()
                        .text("test-results", CommonForm.LONGEST_LINE)
                        .map(path -> within(form.get(), "test-results", path))
                        .orElse(""));
    }

    private static String within(Section form, String key, String path) {
        if (List.of(path.split("/")).contains("..")) {
            form.complain(
                    key, "'" + path + "' leaves the working folder; a path below it, such as out/sales.csv, is needed");
        }
        return path;
    }

    static Outputs outputs(Section section, Parameters parameters) {
        var files = new ArrayList<Output>();
        for (Section form : section.sections("outputs")) {
            form.knowing("file", "name", "at-most");
            String path = form.needed("file", CommonForm.LONGEST_LINE, "the file or folder, from the working folder");
            within(form, "file", path);
            CommonForm.glob(form, "file", path);
            String name = form.text("name", 120).orElse(Output.usualName(path));
            CommonForm.check(form, "file", path, parameters.names());
            CommonForm.check(form, "name", name, parameters.names());
            files.add(new Output(name, path, CommonForm.size(form, "at-most").orElse(Outputs.USUAL_SIZE)));
        }
        return new Outputs(files, CommonForm.duration(section, "keep-outputs", "P3650D"));
    }

    private static List<SafePattern> patterns(Section form, String key) {
        return form.texts(key, CommonForm.LONGEST_LINE).stream()
                .flatMap(text -> CommonForm.pattern(form, key, text).stream())
                .toList();
    }

    private static ExitRule exitRule(Section section) {
        Optional<Section> form = section.section("exit-codes");
        if (form.isEmpty()) {
            return ExitRule.USUAL;
        }
        form.get().knowing("succeeded", "warned");
        Set<Integer> succeeded = form.get().has("succeeded") ? codes(form.get(), "succeeded") : Set.of(0);
        Set<Integer> warned = codes(form.get(), "warned");
        var both = new ArrayList<>(succeeded);
        both.retainAll(warned);
        if (!both.isEmpty()) {
            form.get().complain("warned", both.get(0) + " cannot mean success and a warning");
        }
        return new ExitRule(succeeded, warned);
    }

    static Set<Integer> codes(Section form, String key) {
        var codes = new HashSet<Integer>();
        for (String text : form.texts(key, 40)) {
            if (text.matches("\\d{1,3}") && Integer.parseInt(text) <= 255) {
                codes.add(Integer.parseInt(text));
            } else {
                form.complain(key, "'" + text + "' is no exit code: 0 to 255");
            }
        }
        return codes;
    }
}
