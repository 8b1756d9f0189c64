package org.gantrel.service.work;

import com.lowagie.text.Document;
import com.lowagie.text.DocumentException;
import com.lowagie.text.Element;
import com.lowagie.text.Font;
import com.lowagie.text.PageSize;
import com.lowagie.text.Paragraph;
import com.lowagie.text.Phrase;
import com.lowagie.text.Rectangle;
import com.lowagie.text.pdf.BaseFont;
import com.lowagie.text.pdf.ColumnText;
import com.lowagie.text.pdf.PdfPCell;
import com.lowagie.text.pdf.PdfPTable;
import com.lowagie.text.pdf.PdfPageEventHelper;
import com.lowagie.text.pdf.PdfWriter;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.ZoneId;
import java.util.List;

/** Writes rows as a PDF table in a font that has Latin, Greek and Cyrillic letters; what it lacks becomes a box. */
final class PdfRows {

    private static final String BOX = "\u25a1";
    private static final int SIZE = 9;
    private static final int TITLE_SIZE = 14;
    private static final int MARGIN = 40;

    /** Read once: they are some hundred kilobytes. */
    private static final class Fonts {
        static final BaseFont PLAIN = font("LiberationSans-Regular.ttf");
        static final BaseFont BOLD = font("LiberationSans-Bold.ttf");

        private static BaseFont font(String name) {
            try (InputStream stream = PdfRows.class.getResourceAsStream("/liberation/" + name)) {
                return BaseFont.createFont(
                        name, BaseFont.IDENTITY_H, BaseFont.EMBEDDED, true, stream.readAllBytes(), null);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }

    private final Font plain = new Font(Fonts.PLAIN, SIZE);
    private final Font bold = new Font(Fonts.BOLD, SIZE);
    private final ZoneId zone;
    private int lost;

    PdfRows(ZoneId zone) {
        this.zone = zone;
    }

    RowsFile.Written write(ResultSet rows, String title, OutputStream stream) throws SQLException, IOException {
        List<String> names = SqlExecutor.names(rows.getMetaData());
        long count = 0;
        try {
            var document = new Document(
                    names.size() > 6 ? PageSize.A4.rotate() : PageSize.A4, MARGIN, MARGIN, MARGIN, MARGIN + SIZE);
            PdfWriter writer = PdfWriter.getInstance(document, stream);
            writer.setPageEvent(new Numbers());
            document.addTitle(title);
            document.addCreator("Gantrel");
            document.open();
            document.add(new Paragraph(kept(title, Fonts.BOLD), new Font(Fonts.BOLD, TITLE_SIZE)));
            document.add(new Paragraph(" ", plain));
            var table = new PdfPTable(names.size());
            table.setWidthPercentage(100);
            table.setHeaderRows(1);
            table.setComplete(false);
            names.forEach(name -> table.addCell(new Phrase(kept(name, Fonts.BOLD), bold)));
            var held = new RowsFile.Held();
            while (rows.next()) {
                RowsFile.limit(++count);
                for (int i = 1; i <= names.size(); i++) {
                    table.addCell(cell(rows.getObject(i), held.more(RowsFile.text(rows, i, zone))));
                }
                if (held.isMuch()) {
                    document.add(table);
                }
            }
            table.setComplete(true);
            document.add(table);
            document.close();
        } catch (DocumentException e) {
            throw new IOException(e);
        }
        return new RowsFile.Written(count, lost);
    }

    private PdfPCell cell(Object value, String text) {
        var cell = new PdfPCell(new Phrase(kept(text, Fonts.PLAIN), plain));
        cell.setPadding(3);
        if (value instanceof Number) {
            cell.setHorizontalAlignment(Element.ALIGN_RIGHT);
        }
        return cell;
    }

    /** The text with a box for each letter that a font lacks. */
    private String kept(String text, BaseFont font) {
        var kept = new StringBuilder();
        text.codePoints().forEach(letter -> {
            boolean shown = letter == '\n' || letter == '\t' || font.charExists(letter);
            if (!shown) {
                lost++;
            }
            kept.append(shown ? Character.toString(letter) : BOX);
        });
        return kept.toString();
    }

    /** The number of each page at its foot. */
    private final class Numbers extends PdfPageEventHelper {
        @Override
        public void onEndPage(PdfWriter writer, Document document) {
            Rectangle page = document.getPageSize();
            ColumnText.showTextAligned(
                    writer.getDirectContent(),
                    Element.ALIGN_CENTER,
                    new Phrase("page " + writer.getPageNumber(), plain),
                    (page.getLeft() + page.getRight()) / 2,
                    MARGIN - SIZE,
                    0);
        }
    }
}
