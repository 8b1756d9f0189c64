package org.gantrel.core.action;

import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.Optional;

/**
 * Compares a value that was seen with a limit as what the limit is: a number, a date, a time, a date and time, or an
 * instant. A time of a day counts as that day where the limit is a day.
 */
final class Comparison {

    static final String NUMBER = "a number";

    /** What a text can be compared as. */
    private enum Kind {
        NUMBER(Comparison.NUMBER),
        DATE("a date"),
        DATE_TIME("a date and time"),
        INSTANT("an instant"),
        TIME("a time");

        private final String words;

        Kind(String words) {
            this.words = words;
        }
    }

    private record Value(Kind kind, Comparable<?> value) {}

    private Comparison() {}

    /** What a limit is; nothing where it can be compared with nothing. */
    static Optional<String> kind(String limit) {
        return read(limit).map(value -> value.kind.words);
    }

    /** How a value stands to a limit: below, the same or above; nothing where they are not of one kind. */
    static Optional<Integer> compare(String seen, String limit) {
        Optional<Value> wanted = read(limit);
        return wanted.flatMap(to -> read(seen).flatMap(from -> compare(from, to)));
    }

    private static Optional<Integer> compare(Value seen, Value limit) {
        if (seen.kind == limit.kind) {
            return Optional.of(order(seen.value, limit.value));
        }
        boolean days = limit.kind == Kind.DATE && seen.kind == Kind.DATE_TIME;
        if (days) {
            return Optional.of(((LocalDateTime) seen.value).toLocalDate().compareTo((LocalDate) limit.value));
        }
        return limit.kind == Kind.DATE_TIME && seen.kind == Kind.DATE
                ? Optional.of(((LocalDate) seen.value).atStartOfDay().compareTo((LocalDateTime) limit.value))
                : Optional.empty();
    }

    @SuppressWarnings("unchecked")
    private static int order(Comparable<?> one, Comparable<?> other) {
        return ((Comparable<Object>) one).compareTo(other);
    }

    private static Optional<Value> read(String given) {
        String text = given.strip();
        if (text.length() > 60) {
            return Optional.empty();
        }
        if (text.matches("[-+]?(\\d+\\.?\\d*|\\.\\d+)([eE][-+]?\\d{1,3})?")) {
            return Optional.of(new Value(Kind.NUMBER, new BigDecimal(text)));
        }
        try {
            if (text.matches("\\d{4}-\\d{2}-\\d{2}")) {
                return Optional.of(new Value(Kind.DATE, LocalDate.parse(text)));
            }
            if (text.matches("\\d{1,2}:\\d{2}(:\\d{2}(\\.\\d+)?)?")) {
                return Optional.of(new Value(Kind.TIME, LocalTime.parse(text.length() % 3 == 1 ? "0" + text : text)));
            }
            if (text.matches("\\d{4}-\\d{2}-\\d{2}[T ]\\d{2}:\\d{2}.*")) {
                return Optional.of(moment(text.replace(' ', 'T').replaceFirst("([+-]\\d{2})$", "$1:00")));
            }
        } catch (DateTimeException e) {
            return Optional.empty();
        }
        return Optional.empty();
    }

    private static Value moment(String text) {
        boolean zoned = text.matches(".*(Z|[+-]\\d{2}:\\d{2})");
        return zoned
                ? new Value(Kind.INSTANT, Instant.from(OffsetDateTime.parse(text)))
                : new Value(Kind.DATE_TIME, LocalDateTime.parse(text));
    }
}
