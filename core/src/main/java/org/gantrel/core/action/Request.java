package org.gantrel.core.action;

import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.Bindings;

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

    public static final List<String> METHODS = List.of("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE");
    public static final Duration USUAL_PATIENCE = Duration.ofSeconds(30);

    /** What is fine where nothing is said. */
    public static final List<String> USUAL = List.of("200-299");

    /** A plain question. */
    public static Request get(String address, List<String> expect, Duration patience) {
        return new Request("GET", address, Map.of(), "", expect, "", Map.of(), patience, Optional.empty());
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

    /** Whether its body is JSON: its header says so, or, where none does, it begins as JSON does. */
    public boolean sendsJson() {
        return headers.entrySet().stream()
                .filter(header -> header.getKey().equalsIgnoreCase("Content-Type"))
                .findFirst()
                .map(header -> header.getValue().toLowerCase(Locale.ROOT).contains("json"))
                .orElse(body.strip().startsWith("{") || body.strip().startsWith("["));
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
                sendsJson() ? known.fillJson(body) : known.fill(body),
                expect,
                known.fill(saveTo),
                take,
                patience,
                toTable.map(table -> table.fill(known)));
    }
}
