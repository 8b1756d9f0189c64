package org.gantrel.core.definition;

import java.util.List;
import java.util.stream.Stream;
import org.gantrel.core.action.FileWork;
import org.gantrel.core.action.FileWork.Deed;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.yaml.Section;

/** Reads work on files. */
final class FilesForm {

    static final List<String> DEEDS = Stream.of(Deed.values()).map(Deed::word).toList();

    private final Parameters parameters;

    FilesForm(Parameters parameters) {
        this.parameters = parameters;
    }

    FileWork read(Section form) {
        form.knowing(
                "files",
                "under",
                "matching",
                "older-than",
                "newer-than",
                "larger-than",
                "smaller-than",
                "to",
                "quarantine",
                "at-most",
                "deep",
                "when-empty");
        Deed deed = CommonForm.word(form, "files", DEEDS)
                .map(word -> Deed.values()[DEEDS.indexOf(word)])
                .orElse(Deed.LIST);
        String root = CommonForm.fullPath(form, "under", parameters.names());
        if (root.isEmpty()) {
            form.complain("under", "is missing: the folder outside of which nothing is touched, as a full path");
        }
        String to = CommonForm.fullPath(form, form.has("quarantine") ? "quarantine" : "to", parameters.names());
        if (deed.needsPlace() && !form.has("to")) {
            form.complain("to", "is missing: the folder that the files go to");
        }
        if (form.has("quarantine") && deed != Deed.DELETE) {
            form.complain("quarantine", "only a deletion has one: the folder that takes the files instead");
        }
        if (form.has("to") && (deed == Deed.LIST || deed == Deed.DELETE)) {
            form.complain("to", "nothing goes anywhere when files are only to " + deed.word());
        }
        String matching = form.text("matching", CommonForm.LONGEST_LINE).orElse("**");
        if (CommonForm.check(form, "matching", matching, parameters.names())) {
            CommonForm.glob(form, "matching", matching);
        }
        return new FileWork(
                deed,
                root,
                matching,
                CommonForm.duration(form, "older-than", "P36500D"),
                CommonForm.duration(form, "newer-than", "P36500D"),
                CommonForm.size(form, "larger-than"),
                CommonForm.size(form, "smaller-than"),
                to,
                cap(form),
                form.yes("deep", true),
                CommonForm.whenEmpty(form));
    }

    private static int cap(Section form) {
        String text = form.text("at-most", 20).orElse(String.valueOf(FileWork.USUAL_CAP));
        if (!text.matches("[1-9]\\d{0,6}")) {
            form.complain("at-most", "'" + text + "': a number of files from 1 to 9999999 is expected");
            return FileWork.USUAL_CAP;
        }
        return Integer.parseInt(text);
    }
}
