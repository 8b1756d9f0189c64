package org.gantrel.service.http;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.gantrel.core.problem.InvalidException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;
import org.springframework.web.servlet.support.ServletUriComponentsBuilder;

/**
 * The one shape of paging: {@code limit} rows, those beyond the row that {@code after} names, and a Link header
 * (RFC 8288) to the next page where there is one. A row's place does not move when others come in.
 */
public final class Paging {

    public static final int MOST = 500;

    private Paging() {}

    /**
     * Checks how many rows were asked for.
     *
     * @throws InvalidException where it is not 1 to 500
     */
    public static int limit(int limit) {
        if (limit < 1 || limit > MOST) {
            throw new InvalidException("limit", limit + ": 1 to " + MOST + " would be right");
        }
        return limit;
    }

    /**
     * The answer to a call for a page.
     *
     * @param found up to one row more than the limit; that one shows that there is a next page
     * @param place what {@code after} names a row by
     */
    public static <R, V> ResponseEntity<List<V>> page(
            List<R> found, int limit, Function<R, ?> place, Function<R, V> view) {
        List<R> rows = found.size() > limit ? found.subList(0, limit) : found;
        var headers = new HttpHeaders();
        next(found, rows, place).ifPresent(after -> headers.add(HttpHeaders.LINK, link(after)));
        return ResponseEntity.ok().headers(headers).body(rows.stream().map(view).toList());
    }

    private static <R> Optional<Object> next(List<R> found, List<R> rows, Function<R, ?> place) {
        return found.size() > rows.size() ? Optional.of(place.apply(rows.get(rows.size() - 1))) : Optional.empty();
    }

    private static String link(Object after) {
        String path = ServletUriComponentsBuilder.fromCurrentRequest()
                .replaceQueryParam("after", after)
                .build()
                .encode()
                .toUri()
                .toString();
        return "<" + path.substring(path.indexOf("/api/")) + ">; rel=\"next\"";
    }
}
