package org.gantrel.core.definition;

import java.util.List;
import java.util.Optional;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.action.GitSource.Otherwise;
import org.gantrel.core.action.GitSource.Way;
import org.gantrel.core.expression.Template;
import org.gantrel.core.yaml.Section;

/** Reads where work is taken from. */
final class GitSourceForm {

    private static final int LONGEST_ADDRESS = 2_000;

    private GitSourceForm() {}

    /**
     * What stands under {@code from}, if anything.
     *
     * @param names what expressions may speak of
     */
    static Optional<GitSource> read(Section form, List<String> names) {
        if (!form.has("from")) {
            return Optional.empty();
        }
        Optional<Section> from = form.section("from");
        if (from.isEmpty()) {
            return Optional.empty();
        }
        Section section = from.get();
        section.knowing("git", "at", "credential", "else", "patience");
        String address = section.needed("git", LONGEST_ADDRESS, "the address of a repository, or a full path");
        String at = section.text("at", CommonForm.LONGEST_LINE).orElse(GitSource.USUAL);
        CommonForm.check(section, "git", address, names);
        CommonForm.check(section, "at", at, names);
        String credential =
                section.has("credential") ? CommonForm.name(section, "credential", "the name of a credential") : "";
        var source = new GitSource(
                address,
                at,
                credential,
                CommonForm.word(section, "else", List.of("fail", "last"))
                        .filter("last"::equals)
                        .map(word -> Otherwise.LAST)
                        .orElse(Otherwise.FAIL),
                CommonForm.duration(section, "patience", "PT1H").orElse(GitSource.USUAL_PATIENCE));
        if (!address.isEmpty()) {
            source.wrongAddress().ifPresent(why -> section.complain("git", why));
            source.wrongState().ifPresent(why -> section.complain("at", why));
            boolean known = !Template.isFilled(address) && source.wrongAddress().isEmpty();
            if (known && source.way() == Way.SSH && credential.isEmpty()) {
                section.complain("credential", "is missing: one of the kind ssh, for the host of the address");
            }
            if (known && source.way() == Way.PATH && !credential.isEmpty()) {
                section.complain(
                        "credential", "a path is read as the account that the job acts as; no credential helps there");
            }
        }
        return Optional.of(source);
    }

    /** Complains of a path that would leave the files that are taken. */
    static void within(Section form, String key, String path) {
        if (!path.startsWith("/") && !GitSource.isWithin(path)) {
            form.complain(key, "'" + path + "' leaves the files that are taken from the repository");
        }
    }
}
