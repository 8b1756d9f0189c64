package org.gantrel.core.action;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.Template;

/**
 * An HTTP request (RFC 9110).
 *
 * @param expect the statuses that are fine, such as {@code 200} or {@code 200-299}
 * @param saveTo the output file that takes the answer's body; empty for none
 * @param take values to keep of a JSON answer: a JSON pointer (RFC 6901) by the value's name
 * @param patience how long the answer may take
 * @param toTable the table that takes the rows of a JSON answer
 */
public record Request(
        String method,
        String address,
        Map<String, String> headers,
        String body,
        List<String> expect,
        String saveTo,
        Map<String, String> take,
        Duration patience,
        Optional<Sql.ToTable> toTable)
        implements Action {

    /** The media types of XML (RFC 7303). */
    private static final Pattern XML = Pattern.compile("^(text|application)/([a-z0-9.-]+\\+)?xml\\b");

    public static final List<String> METHODS = List.of("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE");
    public static final Duration USUAL_PATIENCE = Duration.ofSeconds(30);

    /** What is fine where nothing is said. */
    public static final List<String> USUAL = List.of("200-299");

    /** A plain question. */
    public static Request get(String address, Map<String, String> headers) {
        return new Request("GET", address, headers, "", USUAL, "", Map.of(), USUAL_PATIENCE, Optional.empty());
    }

    /** Whether a status is one that is expected. */
    public boolean expects(int status) {
        return expect.stream().anyMatch(range -> {
            String[] ends = range.split("-");
            return status >= Integer.parseInt(ends[0]) && status <= Integer.parseInt(ends[ends.length - 1]);
        });
    }

    @Override
    public String kind() {
        return "request";
    }

    /** What its header says of its body, in small letters; nothing where it says nothing. */
    private Optional<String> contentType() {
        return headers.entrySet().stream()
                .filter(header -> header.getKey().equalsIgnoreCase("Content-Type"))
                .findFirst()
                .map(header -> header.getValue().toLowerCase(Locale.ROOT));
    }

    /** Whether its body is JSON: its header says so, or, where none does, it begins as JSON does. */
    public boolean sendsJson() {
        return contentType()
                .map(type -> type.contains("json"))
                .orElse(body.strip().startsWith("{") || body.strip().startsWith("["));
    }

    /** The body with its values, written as its form writes what stands for itself. */
    private String filledBody(Bindings known) {
        String type = contentType().orElse("");
        if (sendsJson()) {
            return known.fillJson(body);
        }
        if (type.startsWith("application/x-www-form-urlencoded")) {
            return known.fillWritten(body, value -> URLEncoder.encode(value, StandardCharsets.UTF_8));
        }
        return XML.matcher(type).find() ? known.fillWritten(body, new XmlValues()) : known.fill(body);
    }

    /** Texts within elements and attributes (XML 1.0, 2.4), and within sections that take them as they are (2.7). */
    private static final class XmlValues implements Template.Writing {

        private boolean inSection;

        @Override
        public void plain(String text) {
            int opened = text.lastIndexOf("<![CDATA[");
            int closed = text.lastIndexOf("]]>");
            inSection = opened > closed || (inSection && closed < 0);
        }

        @Override
        public String of(String value) {
            return inSection
                    ? value.replace("]]>", "]]]]><![CDATA[>")
                    : value.replace("&", "&amp;")
                            .replace("<", "&lt;")
                            .replace(">", "&gt;")
                            .replace("\"", "&quot;")
                            .replace("'", "&apos;");
        }
    }

    @Override
    public List<String> credentials() {
        return toTable.map(Sql.ToTable::database).stream().toList();
    }

    @Override
    public Request fill(Bindings known) {
        return new Request(
                method,
                known.fillAddress(address),
                known.fill(headers),
                filledBody(known),
                expect,
                known.fill(saveTo),
                take,
                patience,
                toTable.map(table -> table.fill(known)));
    }
}
