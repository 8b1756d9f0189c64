package org.gantrel.core.definition;

import java.time.Duration;
import java.util.Optional;
import org.gantrel.core.job.Expect;
import org.gantrel.core.trigger.FileWatch;
import org.gantrel.core.yaml.Section;

/** Reads what is expected of a job. */
final class ExpectForm {

    private static final String LONGEST = "P366D";

    private ExpectForm() {}

    static Expect read(Section section) {
        Optional<Section> found = section.section("expect");
        if (found.isEmpty()) {
            return Expect.NOTHING;
        }
        Section form = found.get();
        form.knowing("good-within", "starts-within", "coming-start", "arrivals");
        boolean coming = form.yes("coming-start", false);
        if (coming && section.sections("schedules").isEmpty()) {
            form.complain("coming-start", "the job has no schedule that could have one");
        }
        var expect = new Expect(
                CommonForm.duration(form, "good-within", LONGEST),
                CommonForm.duration(form, "starts-within", LONGEST),
                coming,
                form.section("arrivals").map(ExpectForm::arrivals));
        if (expect.isNothing()) {
            section.complain("expect", "says nothing: good-within, starts-within, coming-start or arrivals");
        }
        return expect;
    }

    private static FileWatch arrivals(Section form) {
        form.knowing("under", "matching", "deep", "within", "host");
        if (!form.has("within")) {
            form.complain("within", "is missing: how often something has to come, such as 26 h");
        }
        return new FileWatch(
                CommonForm.watchedFolder(form),
                CommonForm.watchedFiles(form),
                CommonForm.number(form, "deep", 1, FileWatch.DEEPEST).orElse(1),
                Duration.ZERO,
                "",
                Optional.empty(),
                CommonForm.duration(form, "within", LONGEST),
                Optional.empty(),
                form.has("host") ? CommonForm.name(form, "host", "the credential of the host") : "");
    }
}
