package org.gantrel.core.definition;

import java.util.List;
import org.gantrel.core.action.Action;
import org.gantrel.core.action.Checks;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.FileWork;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.action.Request;
import org.gantrel.core.action.Sql;
import org.gantrel.core.expression.Template;
import org.gantrel.core.job.Outputs;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.yaml.Section;

/** Refuses secrets where everybody can read what is made of them: in arguments, names of files, and other parameters. */
final class SecretSpread {

    private final Section section;
    private final List<String> secrets;

    SecretSpread(Section section, Parameters parameters) {
        this.section = section;
        this.secrets = parameters.all().stream()
                .filter(Parameter::isSecret)
                .map(Parameter::name)
                .toList();
        for (Parameter parameter : parameters.all()) {
            String fallback = parameter.fallback().orElse("");
            if (!parameter.isSecret() && speaks(fallback)) {
                complain(
                        "parameters",
                        "the default of " + parameter.name() + " speaks of a secret, so " + parameter.name()
                                + " has to be of the type secret itself");
            }
        }
    }

    private boolean speaks(String text) {
        return !secrets.isEmpty() && Template.speaksOf(text, secrets);
    }

    private void complain(String key, String message) {
        section.complain(key, message);
    }

    private void shown(String key, String what, String text) {
        if (speaks(text)) {
            complain(key, what + " speaks of a secret, and everybody sees it");
        }
    }

    /** Looks at what a task does and leaves. */
    void refuse(Action action, Outputs outputs) {
        outputs.files().forEach(output -> {
            shown("outputs", "the path of an output", output.path());
            shown("outputs", "the name of an output", output.name());
        });
        if (action instanceof Command command) {
            refuse(command);
        } else if (action instanceof Checks checks) {
            checks.from().ifPresent(this::refuse);
        } else if (action instanceof Request request) {
            shown("does", "the name of the saved answer", request.saveTo());
        } else if (action instanceof FileWork files) {
            List.of(files.root(), files.matching(), files.to()).forEach(text -> shown("does", "a path", text));
        } else if (action instanceof Sql sql && sql.result().orElse(null) instanceof Sql.ToFile file) {
            shown("does", "the name of the file", file.name());
        }
    }

    private void refuse(Command command) {
        int line = command.shellLine();
        for (int i = 0; i < command.arguments().size(); i++) {
            if (i != line && speaks(command.arguments().get(i))) {
                complain(
                        "does",
                        "argument " + i + " speaks of a secret, and everybody on the host can read arguments; give it"
                                + " by 'environment: { NAME: ${...} }', by 'input: values', or in a file that only the account reads");
            }
        }
        shown("does", "the folder", command.folder());
        command.from().ifPresent(this::refuse);
    }

    private void refuse(GitSource source) {
        shown("does", "the address of the repository", source.address());
        shown("does", "the name of the repository's state", source.at());
    }
}
