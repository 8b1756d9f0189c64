package org.gantrel.service.work;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.math.BigDecimal;
import java.math.MathContext;
import java.nio.charset.StandardCharsets;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.time.format.TextStyle;
import java.util.List;
import java.util.Locale;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.gantrel.core.action.Sql.Format;
import org.springframework.web.util.HtmlUtils;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.exc.JacksonIOException;
import tools.jackson.databind.json.JsonMapper;

/** Writes the rows of a query into a file, row by row. */
interface RowsFile {

    /** The most rows that a format for people takes; a longer one cannot be opened or read. */
    int MOST_FOR_PEOPLE = 100_000;

    DateTimeFormatter TIME = DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm");
    int SHOWN_DIGITS = 12;

    /** What a cell of a spreadsheet holds at most, in characters; nobody reads more in a page either. */
    int LONGEST_CELL = 32_767;

    /**
     * Writes all rows.
     *
     * @param title what the file is called
     * @param file is written to its end
     */
    Written write(ResultSet rows, String title, OutputStream file) throws SQLException, IOException;

    /**
     * What was written.
     *
     * @param lost letters that could not be shown
     */
    record Written(long rows, int lost) {
        static Written of(long rows) {
            return new Written(rows, 0);
        }
    }

    /** @param zone whose local clock people read */
    static RowsFile of(Format format, ZoneId zone) {
        return switch (format) {
            case CSV -> RowsFile::csv;
            case JSON -> RowsFile::json;
            case XLSX -> (rows, title, file) -> xlsx(rows, file, zone);
            case HTML -> (rows, title, file) -> html(rows, title, file, zone);
            case PDF -> new PdfRows(zone)::write;
        };
    }

    private static Writer letters(OutputStream file) {
        // what is no text is refused, not replaced
        return new BufferedWriter(new OutputStreamWriter(file, StandardCharsets.UTF_8.newEncoder()));
    }

    /** RFC 4180. */
    private static Written csv(ResultSet rows, String title, OutputStream file) throws SQLException, IOException {
        List<String> names = SqlExecutor.names(rows.getMetaData());
        long count = 0;
        try (Writer writer = letters(file);
                CSVPrinter printer = new CSVPrinter(writer, CSVFormat.RFC4180)) {
            printer.printRecord(names);
            while (rows.next()) {
                for (int i = 1; i <= names.size(); i++) {
                    printer.print(rows.getString(i));
                }
                printer.println();
                count++;
            }
        }
        return Written.of(count);
    }

    private static Written json(ResultSet rows, String title, OutputStream file) throws SQLException, IOException {
        List<String> names = SqlExecutor.names(rows.getMetaData());
        long count = 0;
        try (JsonGenerator json = JsonMapper.shared().createGenerator(file)) {
            json.writeStartArray();
            while (rows.next()) {
                json.writeStartObject();
                for (int i = 1; i <= names.size(); i++) {
                    json.writeName(names.get(i - 1).toLowerCase(Locale.ROOT));
                    writeValue(json, rows.getObject(i), rows.getString(i));
                }
                json.writeEndObject();
                count++;
            }
            json.writeEndArray();
        } catch (JacksonIOException e) {
            throw e.getCause();
        }
        return Written.of(count);
    }

    private static void writeValue(JsonGenerator json, Object value, String text) {
        if (value == null) {
            json.writeNull();
        } else if (value instanceof Boolean yes) {
            json.writeBoolean(yes);
        } else if (value instanceof Number number) {
            json.writeNumber(new BigDecimal(number.toString()));
        } else {
            json.writeString(text);
        }
    }

    private static Written xlsx(ResultSet rows, OutputStream file, ZoneId zone) throws SQLException, IOException {
        List<String> names = SqlExecutor.names(rows.getMetaData());
        int count = 0;
        try (Workbook book = new Workbook(file, "Gantrel", "1.0")) {
            Worksheet sheet = book.newWorksheet("rows");
            for (int i = 0; i < names.size(); i++) {
                sheet.value(0, i, names.get(i));
                sheet.style(0, i).bold().set();
            }
            var held = new Held();
            while (rows.next()) {
                limit(++count);
                if (held.isMuch()) {
                    sheet.flush();
                }
                for (int i = 1; i <= names.size(); i++) {
                    put(sheet, count, i - 1, rows, zone, held);
                }
            }
        }
        return Written.of(count);
    }

    /** Numbers, dates and times are what they are; a text is a text, though it begins like a formula. */
    private static void put(Worksheet sheet, int row, int column, ResultSet rows, ZoneId zone, Held held)
            throws SQLException {
        Object value = rows.getObject(column + 1);
        if (value instanceof Number number) {
            sheet.value(row, column, number);
        } else if (value instanceof Boolean yes) {
            sheet.value(row, column, yes);
        } else if (value instanceof java.sql.Date day) {
            sheet.value(row, column, day.toLocalDate());
            sheet.style(row, column).format("yyyy-mm-dd").set();
        } else if (value instanceof Timestamp at) {
            time(sheet, row, column, at.toLocalDateTime());
        } else if (value instanceof OffsetDateTime at) {
            time(sheet, row, column, at.atZoneSameInstant(zone).toLocalDateTime());
        } else {
            String text = rows.getString(column + 1);
            if (text != null) {
                // within the row: in a table of its own every text would be held to the end
                sheet.inlineString(row, column, held.more(text));
            }
        }
    }

    /** Counts what is held of rows that are not on the disk yet. */
    final class Held {

        private static final int MUCH = 1_000_000;
        private static final int MANY_ROWS = 500;

        private int letters;
        private int rows;

        /** A text more; gives it back. */
        String more(String text) {
            if (text.length() > LONGEST_CELL) {
                throw new WorkFailed("a value of " + text.length() + " characters is too long for this format, which"
                        + " takes at most " + LONGEST_CELL + "; take .csv or .json");
            }
            letters += text.length();
            return text;
        }

        /** Whether it is so much, asked once for each row, that it should go to the disk; what is counted begins anew then. */
        boolean isMuch() {
            boolean much = ++rows >= MANY_ROWS || letters > MUCH;
            if (much) {
                rows = 0;
                letters = 0;
            }
            return much;
        }
    }

    private static void time(Worksheet sheet, int row, int column, LocalDateTime at) {
        sheet.value(row, column, at);
        sheet.style(row, column).format("yyyy-mm-dd hh:mm").set();
    }

    private static Written html(ResultSet rows, String title, OutputStream file, ZoneId zone)
            throws SQLException, IOException {
        List<String> names = SqlExecutor.names(rows.getMetaData());
        long count = 0;
        try (Writer writer = letters(file)) {
            String escaped = HtmlUtils.htmlEscape(title);
            writer.write("<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>" + escaped
                    + "</title></head><body><h1>" + escaped + "</h1>\n<table border=\"1\" cellpadding=\"4\">\n<tr>");
            for (String name : names) {
                writer.write("<th>" + HtmlUtils.htmlEscape(name) + "</th>");
            }
            writer.write("</tr>\n");
            while (rows.next()) {
                limit(++count);
                writer.write("<tr>");
                for (int i = 1; i <= names.size(); i++) {
                    writer.write("<td>" + HtmlUtils.htmlEscape(text(rows, i, zone)) + "</td>");
                }
                writer.write("</tr>\n");
            }
            writer.write("</table></body></html>\n");
        }
        return Written.of(count);
    }

    /**
     * A value as people read it: times by the local clock of a zone, and numbers without the rounding of a computer.
     *
     * @return an empty text for nothing
     */
    static String text(ResultSet rows, int column, ZoneId zone) throws SQLException {
        Object value = rows.getObject(column);
        if (value instanceof OffsetDateTime at) {
            return TIME.format(at.atZoneSameInstant(zone)) + " " + zone.getDisplayName(TextStyle.SHORT, Locale.ENGLISH);
        }
        if (value instanceof Timestamp at) {
            return TIME.format(at.toLocalDateTime());
        }
        if (value instanceof Double || value instanceof Float) {
            double number = ((Number) value).doubleValue();
            return Double.isFinite(number)
                    ? new BigDecimal(number)
                            .round(new MathContext(SHOWN_DIGITS))
                            .stripTrailingZeros()
                            .toPlainString()
                    : value.toString();
        }
        String text = rows.getString(column);
        return text == null ? "" : text;
    }

    static void limit(long count) {
        if (count > MOST_FOR_PEOPLE) {
            throw new WorkFailed(
                    "more than " + MOST_FOR_PEOPLE + " rows are too many for this format; take .csv or .json");
        }
    }
}
