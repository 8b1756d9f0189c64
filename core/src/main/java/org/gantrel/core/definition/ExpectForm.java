package org.gantrel.core.definition;

import java.time.Duration;
import java.util.List;
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
        String folder = form.needed("under", 1_000, "the full path of the folder");
        if (!folder.isEmpty() && (!folder.startsWith("/") || (folder + "/").contains("/../"))) {
            form.complain("under", "'" + folder + "' is no full path without '..', such as /srv/tides");
        }
        List<String> matching = form.isList("matching")
                ? form.texts("matching", CommonForm.LONGEST_LINE)
                : form.text("matching", CommonForm.LONGEST_LINE).stream().toList();
        matching.forEach(glob -> CommonForm.glob(form, "matching", glob));
        if (!form.has("within")) {
            form.complain("within", "is missing: how often something has to come, such as 26 h");
        }
        return new FileWatch(
                folder,
                matching.isEmpty() ? List.of("*") : matching,
                CommonForm.number(form, "deep", 1, FileWatch.DEEPEST).orElse(1),
                Duration.ZERO,
                "",
                Optional.empty(),
                CommonForm.duration(form, "within", LONGEST),
                Optional.empty(),
                form.has("host") ? CommonForm.name(form, "host", "the credential of the host") : "");
    }
}
