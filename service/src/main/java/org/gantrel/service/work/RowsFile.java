package org.gantrel.service.work;

import com.lowagie.text.Document;
import com.lowagie.text.DocumentException;
import com.lowagie.text.Font;
import com.lowagie.text.FontFactory;
import com.lowagie.text.PageSize;
import com.lowagie.text.Paragraph;
import com.lowagie.text.Phrase;
import com.lowagie.text.pdf.PdfPTable;
import com.lowagie.text.pdf.PdfWriter;
import java.io.IOException;
import java.io.OutputStream;
import java.io.Writer;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Locale;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.gantrel.core.action.Sql.Format;
import org.springframework.web.util.HtmlUtils;
import tools.jackson.core.JsonGenerator;
import tools.jackson.databind.json.JsonMapper;

/** Writes the rows of a query into a file, row by row. */
interface RowsFile {

    /** The most rows that a format for people takes; a longer one cannot be opened or read. */
    int MOST_FOR_PEOPLE = 100_000;

    /** After so many rows, what was written goes to the disk. */
    int ROWS_IN_MEMORY = 500;

    /**
     * Writes all rows.
     *
     * @param title what the file is called
     * @return how many there were
     */
    long write(ResultSet rows, String title, Path file) throws SQLException, IOException;

    static RowsFile of(Format format) {
        return switch (format) {
            case CSV -> RowsFile::csv;
            case JSON -> RowsFile::json;
            case XLSX -> RowsFile::xlsx;
            case HTML -> RowsFile::html;
            case PDF -> RowsFile::pdf;
        };
    }

    /** RFC 4180. */
    private static long csv(ResultSet rows, String title, Path file) throws SQLException, IOException {
        List<String> names = SqlExecutor.names(rows.getMetaData());
        long count = 0;
        try (Writer writer = Files.newBufferedWriter(file);
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
        return count;
    }

    private static long json(ResultSet rows, String title, Path file) throws SQLException, IOException {
        List<String> names = SqlExecutor.names(rows.getMetaData());
        long count = 0;
        try (OutputStream stream = Files.newOutputStream(file);
                JsonGenerator json = JsonMapper.shared().createGenerator(stream)) {
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
        }
        return count;
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

    private static long xlsx(ResultSet rows, String title, Path file) throws SQLException, IOException {
        List<String> names = SqlExecutor.names(rows.getMetaData());
        int count = 0;
        try (OutputStream stream = Files.newOutputStream(file);
                Workbook book = new Workbook(stream, "Gantrel", "1.0")) {
            Worksheet sheet = book.newWorksheet("rows");
            for (int i = 0; i < names.size(); i++) {
                sheet.value(0, i, names.get(i));
                sheet.style(0, i).bold().set();
            }
            while (rows.next()) {
                limit(++count);
                if (count % ROWS_IN_MEMORY == 0) {
                    sheet.flush();
                }
                for (int i = 1; i <= names.size(); i++) {
                    if (rows.getObject(i) instanceof Number number) {
                        sheet.value(count, i - 1, number);
                    } else {
                        sheet.value(count, i - 1, rows.getString(i));
                    }
                }
            }
        }
        return count;
    }

    private static long html(ResultSet rows, String title, Path file) throws SQLException, IOException {
        List<String> names = SqlExecutor.names(rows.getMetaData());
        long count = 0;
        try (Writer writer = Files.newBufferedWriter(file)) {
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
                    String cell = rows.getString(i);
                    writer.write("<td>" + (cell == null ? "" : HtmlUtils.htmlEscape(cell)) + "</td>");
                }
                writer.write("</tr>\n");
            }
            writer.write("</table></body></html>\n");
        }
        return count;
    }

    private static long pdf(ResultSet rows, String title, Path file) throws SQLException, IOException {
        List<String> names = SqlExecutor.names(rows.getMetaData());
        Font plain = FontFactory.getFont(FontFactory.HELVETICA, 9);
        Font bold = FontFactory.getFont(FontFactory.HELVETICA_BOLD, 9);
        long count = 0;
        try (OutputStream stream = Files.newOutputStream(file)) {
            var document = new Document(names.size() > 6 ? PageSize.A4.rotate() : PageSize.A4);
            PdfWriter.getInstance(document, stream);
            document.open();
            document.add(new Paragraph(title, FontFactory.getFont(FontFactory.HELVETICA_BOLD, 14)));
            document.add(new Paragraph(" "));
            var table = new PdfPTable(names.size());
            table.setWidthPercentage(100);
            table.setHeaderRows(1);
            table.setComplete(false);
            names.forEach(name -> table.addCell(new Phrase(name, bold)));
            while (rows.next()) {
                limit(++count);
                for (int i = 1; i <= names.size(); i++) {
                    String cell = rows.getString(i);
                    table.addCell(new Phrase(cell == null ? "" : cell, plain));
                }
                if (count % ROWS_IN_MEMORY == 0) {
                    document.add(table);
                }
            }
            table.setComplete(true);
            document.add(table);
            document.close();
        } catch (DocumentException e) {
            throw new IOException(e);
        }
        return count;
    }

    private static void limit(long count) {
        if (count > MOST_FOR_PEOPLE) {
            throw new WorkFailed(
                    "more than " + MOST_FOR_PEOPLE + " rows are too many for this format; take .csv or .json");
        }
    }
}
