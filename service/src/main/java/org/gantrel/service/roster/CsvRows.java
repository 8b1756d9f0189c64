package org.gantrel.service.roster;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Consumer;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;

/** Reads rows of CSV (RFC 4180), one in memory at a time. The first line names the columns; what is wrong names its line. */
public final class CsvRows {

    /** The column of written rows that says yes or no: whether the row takes part. */
    static final String INCLUDE = "include";

    private static final int MOST_PROBLEMS = 20;
    private static final int LONGEST_HEADING = 65_536;

    private CsvRows() {}

    /**
     * Reads all rows.
     *
     * @param columns those that are known; empty for any
     * @param problems takes what is wrong
     */
    public static void read(
            Reader csv, List<String> columns, List<Problem> problems, Consumer<Map<String, String>> each)
            throws IOException {
        var lines = new BufferedReader(csv);
        try (CSVParser parser = CSVFormat.RFC4180
                .builder()
                .setDelimiter(separator(lines))
                .setIgnoreSurroundingSpaces(true)
                .setIgnoreEmptyLines(true)
                .get()
                .parse(lines)) {
            List<String> heading = List.of();
            for (CSVRecord record : parser) {
                if (heading.isEmpty()) {
                    heading = record.toList().stream()
                            .map(name -> name.replace("\uFEFF", ""))
                            .toList();
                    check(heading, columns, problems);
                } else if (record.size() != heading.size()) {
                    problems.add(new Problem(
                            "rows",
                            (int) parser.getCurrentLineNumber(),
                            1,
                            Words.count(record.size(), "value") + " for " + Words.count(heading.size(), "column")));
                } else {
                    Map<String, String> values = values(heading, record);
                    String include = values.getOrDefault(INCLUDE, "").strip().toLowerCase(Locale.ROOT);
                    if (!columns.isEmpty() && !List.of("yes", "no", "").contains(include)) {
                        problems.add(new Problem(
                                INCLUDE,
                                (int) parser.getCurrentLineNumber(),
                                1,
                                "'" + include + "' is neither yes nor no"));
                    }
                    each.accept(values);
                }
                if (problems.size() >= MOST_PROBLEMS) {
                    return;
                }
            }
        } catch (UncheckedIOException e) {
            problems.add(Problem.of("rows", "is no CSV: " + e.getCause().getMessage()));
        } catch (IllegalStateException e) {
            problems.add(Problem.of("rows", "is no CSV: " + e.getMessage()));
        }
    }

    /** A comma, or what stands between the columns' names where no comma does: spreadsheets write their country's separator. */
    private static char separator(BufferedReader lines) throws IOException {
        lines.mark(LONGEST_HEADING);
        var heading = new StringBuilder();
        int read = 0;
        for (int letter = lines.read();
                letter >= 0 && (letter != '\n' || heading.isEmpty()) && ++read < LONGEST_HEADING;
                letter = lines.read()) {
            if (!heading.isEmpty() || !Character.isWhitespace(letter)) {
                heading.append((char) letter);
            }
        }
        lines.reset();
        return heading.chars()
                .filter(letter -> letter == ',' || letter == ';' || letter == '\t')
                .mapToObj(letter -> (char) letter)
                .min(Comparator.comparing(",;\t"::indexOf))
                .orElse(',');
    }

    private static void check(List<String> heading, List<String> columns, List<Problem> problems) {
        for (String name : heading) {
            boolean known = columns.isEmpty() || columns.contains(name) || name.equals(INCLUDE);
            if (!known) {
                problems.add(new Problem(
                        "rows",
                        1,
                        1,
                        "'" + name + "' is no column of the roster; there are " + String.join(", ", columns)
                                + Nearest.hint(name, columns)));
            }
        }
    }

    private static Map<String, String> values(List<String> heading, CSVRecord record) {
        var values = new LinkedHashMap<String, String>();
        for (int i = 0; i < heading.size(); i++) {
            values.put(heading.get(i), record.get(i));
        }
        return values;
    }
}
