package org.gantrel.client.output;

import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** Prints lists and objects: as a table for people, as JSON or CSV (RFC 4180) for programs. */
public final class Printer {

    private static final JsonMapper JSON =
            JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT).build();
    private static final int WIDEST = 60;

    private final PrintStream out;
    private final boolean colour;
    /** Stands for the beginning of a colour, and in no text of others. */
    private final String mark = "\ue000" + UUID.randomUUID();

    /** Prints to standard output, in colour where a person looks who has not asked for none. */
    public Printer() {
        this(
                new PrintStream(new FileOutputStream(FileDescriptor.out), false, StandardCharsets.UTF_8),
                System.console() != null && System.getenv("NO_COLOR") == null && !"dumb".equals(System.getenv("TERM")));
    }

    Printer(PrintStream out, boolean colour) {
        this.out = out;
        this.colour = colour;
    }

    /** Prints rows; a table without rows is a sentence on the error stream, so that scripts see nothing. */
    public void list(List<JsonNode> rows, List<Column> columns, Format format, String whenEmpty) {
        switch (format) {
            case json -> json(JSON.valueToTree(rows));
            case csv -> {
                csvLine(columns.stream().map(Column::heading).toList());
                rows.forEach(row -> csvLine(columns.stream()
                        .map(column -> column.plain().apply(row))
                        .toList()));
            }
            case table -> table(rows, columns, whenEmpty);
        }
        out.flush();
    }

    public void json(JsonNode node) {
        out.println(Visible.json(JSON.writeValueAsString(node)));
        out.flush();
    }

    /** A line of data. */
    public void line(String text) {
        out.println(shown(text));
        out.flush();
    }

    /** Something to know that is no data. */
    public static void say(String text) {
        System.err.println(Visible.of(text));
    }

    /** A state in its colour where a person looks. */
    public String state(String word) {
        return paint(
                word,
                switch (word) {
                    case "succeeded" -> "36";
                    case "warned", "waiting", "pending" -> "33";
                    case "failed", "timed-out", "missed" -> "31";
                    case "running" -> "34";
                    default -> "2";
                });
    }

    public String strong(String text) {
        return paint(text, "1");
    }

    private String paint(String text, String code) {
        return colour && !text.isEmpty() ? mark + code + "m" + text + mark + "0m" : text;
    }

    /** Nobody but this printer can send what steers a terminal. */
    private String shown(String text) {
        return Visible.of(text).replace(mark, "\u001b[");
    }

    private void table(List<JsonNode> rows, List<Column> columns, String whenEmpty) {
        if (rows.isEmpty()) {
            say(whenEmpty);
            return;
        }
        List<List<String>> lines = new ArrayList<>();
        lines.add(columns.stream().map(Column::heading).toList());
        rows.forEach(row -> lines.add(
                columns.stream().map(column -> brief(column.text().apply(row))).toList()));
        int[] widths = new int[columns.size()];
        lines.forEach(line -> {
            for (int i = 0; i < widths.length; i++) {
                widths[i] = Math.max(widths[i], line.get(i).length());
            }
        });
        for (int row = 0; row < lines.size(); row++) {
            var text = new StringBuilder();
            for (int i = 0; i < widths.length; i++) {
                String cell = lines.get(row).get(i);
                boolean state = row > 0 && columns.get(i).heading().equals("STATE");
                text.append(row == 0 ? strong(cell) : state ? state(cell) : cell);
                text.append(i + 1 == widths.length ? "" : " ".repeat(widths[i] - cell.length() + 2));
            }
            out.println(shown(text.toString().stripTrailing()));
        }
    }

    private void csvLine(List<String> cells) {
        out.print(cells.stream().map(Printer::csvCell).collect(Collectors.joining(",")) + "\r\n");
    }

    /** A cell that begins like a formula is quoted behind an apostrophe, so that a spreadsheet takes it as text. */
    private static String csvCell(String text) {
        boolean formula = text.matches("(?s)\\s*[=+@-].*") && !text.matches("[+-]?\\d+([.,]\\d+)?");
        String safe = Visible.of(formula ? "'" + text : text);
        return safe.matches("(?s).*[\",\r\n].*") ? "\"" + safe.replace("\"", "\"\"") + "\"" : safe;
    }

    private static String brief(String text) {
        String line = text.replaceAll("\\s+", " ");
        return line.length() <= WIDEST ? line : line.substring(0, WIDEST - 1) + "…";
    }
}
