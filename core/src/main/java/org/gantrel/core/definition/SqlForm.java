package org.gantrel.core.definition;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.action.Sql;
import org.gantrel.core.action.Sql.Format;
import org.gantrel.core.action.Sql.Result;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.yaml.Section;

/** Reads statements for a database. */
final class SqlForm {

    private static final List<String> FORMATS =
            Stream.of(Format.values()).map(Format::word).toList();

    private final Parameters parameters;

    SqlForm(Parameters parameters) {
        this.parameters = parameters;
    }

    Sql read(Section form) {
        form.knowing("sql", "to-file", "to-table", "take", "when-empty");
        List<String> statements = form.isList("sql")
                ? form.texts("sql", CommonForm.LONGEST_TEXT)
                : form.text("sql", CommonForm.LONGEST_TEXT).stream().toList();
        if (statements.isEmpty() || statements.stream().anyMatch(String::isBlank)) {
            form.complain("sql", "a statement is missing");
        }
        statements.forEach(each -> CommonForm.check(form, "sql", each, parameters.names()));
        if (form.has("to-file") && form.has("to-table")) {
            form.complain("to-table", "the rows go into a file or into a table, not both");
        }
        Map<String, String> take = form.map("take", CommonForm.LONGEST_TEXT);
        take.forEach((name, query) -> {
            CommonForm.valueName(form, "take", name);
            CommonForm.check(form, "take", query, parameters.names());
        });
        return new Sql(
                statements,
                List.of(),
                toFile(form).or(() -> toTable(form)),
                take,
                Map.of(),
                CommonForm.whenEmpty(form));
    }

    private Optional<Result> toFile(Section form) {
        if (!form.has("to-file")) {
            return Optional.empty();
        }
        String name = form.text("to-file", 200).orElse("");
        CommonForm.check(form, "to-file", name, parameters.names());
        String ending = name.replaceFirst(".*\\.", "");
        if (!FORMATS.contains(ending) || name.contains("/")) {
            form.complain(
                    "to-file",
                    "'" + name + "': a file name is expected that ends in ." + String.join(", .", FORMATS)
                            + "; it is kept among the outputs of the run");
            return Optional.empty();
        }
        return Optional.of(new Sql.ToFile(name, Format.values()[FORMATS.indexOf(ending)]));
    }

    private Optional<Result> toTable(Section form) {
        return form.section("to-table").map(table -> TableForm.read(table, parameters.names()));
    }
}
