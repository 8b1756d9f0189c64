package org.gantrel.core.parameter;

import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import org.gantrel.core.expression.ValueKind;

/** What kind of value a parameter takes; each kind knows how to read one. */
public enum ParameterType {
    TEXT("any text of one line or more") {
        @Override
        Optional<String> read(String given) {
            return given.indexOf('\0') >= 0 ? Optional.empty() : Optional.of(given);
        }
    },
    NUMBER("a number such as 12 or 0.5", Comparator.comparing(BigDecimal::new)) {
        @Override
        Optional<String> read(String given) {
            String text = given.strip();
            if (text.length() > 40 || !text.matches("[-+]?\\d+(\\.\\d+)?")) {
                return Optional.empty();
            }
            return Optional.of(new BigDecimal(text).toPlainString());
        }
    },
    DATE("a date such as 2026-11-23", Comparator.comparing(LocalDate::parse)) {
        @Override
        Optional<String> read(String given) {
            return parsed(given, text -> LocalDate.parse(text).toString());
        }
    },
    TIME("a time such as 07:30", Comparator.comparing(LocalTime::parse)) {
        @Override
        Optional<String> read(String given) {
            return parsed(given, text -> LocalTime.parse(text).toString());
        }
    },
    DATE_TIME("a date and time such as 2026-11-23T07:30", Comparator.comparing(LocalDateTime::parse)) {
        @Override
        Optional<String> read(String given) {
            return parsed(
                    given, text -> LocalDateTime.parse(text.length() == 10 ? text + "T00:00" : text.replace(' ', 'T'))
                            .toString());
        }
    },
    DURATION("a length of time as ISO 8601 writes it, such as PT30M or P2D", Comparator.comparing(Duration::parse)) {
        @Override
        Optional<String> read(String given) {
            return parsed(given, text -> Duration.parse(text).toString());
        }
    },
    LIST("values with commas between them") {
        @Override
        Optional<String> read(String given) {
            return TEXT.read(given).map(text -> Arrays.stream(text.split("[,\n]"))
                    .map(String::strip)
                    .filter(item -> !item.isEmpty())
                    .collect(Collectors.joining(",")));
        }

        @Override
        List<String> items(String value) {
            return value.isEmpty() ? List.of() : List.of(value.split(","));
        }
    },
    PATH("the path of a file or folder, without '..'") {
        @Override
        Optional<String> read(String given) {
            String text = given.strip();
            boolean climbs = Arrays.asList(text.split("/")).contains("..");
            return text.isEmpty() || climbs || text.indexOf('\0') >= 0 ? Optional.empty() : Optional.of(text);
        }
    },
    CHOICE("one of the listed values") {
        @Override
        Optional<String> read(String given) {
            return Optional.of(given);
        }
    },
    YES_NO("yes or no") {
        @Override
        Optional<String> read(String given) {
            String word = given.strip().toLowerCase(Locale.ROOT);
            if (Set.of("yes", "true", "on", "1").contains(word)) {
                return Optional.of("yes");
            }
            return Set.of("no", "false", "off", "0").contains(word) ? Optional.of("no") : Optional.empty();
        }
    },
    SECRET("any text; it is sealed and never shown again") {
        @Override
        Optional<String> read(String given) {
            return TEXT.read(given);
        }
    };

    /** What is allowed, as a person reads it. */
    public final String allowed;

    /** How values follow one another; null where they have no order. */
    private final Comparator<String> order;

    ParameterType(String allowed) {
        this(allowed, null);
    }

    ParameterType(String allowed, Comparator<String> order) {
        this.allowed = allowed;
        this.order = order;
    }

    /** How values of this kind follow one another; nothing where they have no order. */
    Optional<Comparator<String>> order() {
        return Optional.ofNullable(order);
    }

    /** Whether values of this kind can be compared. */
    public boolean isOrdered() {
        return order().isPresent();
    }

    /** A bound of a range in its canonical form; nothing where the text is none. */
    public Optional<String> bound(String text) {
        return isOrdered() ? read(text) : Optional.empty();
    }

    /** The single values that a canonical value is made of. */
    List<String> items(String value) {
        return List.of(value);
    }

    private static Optional<String> parsed(String given, UnaryOperator<String> parse) {
        try {
            return Optional.of(parse.apply(given.strip()));
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    /** The value in its one canonical form, or nothing where the text is not such a value. */
    abstract Optional<String> read(String given);

    /** Whether a text is such a value. */
    public boolean takes(String text) {
        return read(text).isPresent();
    }

    /** What its values are where they are handed on. */
    public ValueKind kind() {
        return switch (this) {
            case NUMBER -> ValueKind.NUMBER;
            case DATE -> ValueKind.DATE;
            case TIME -> ValueKind.TIME;
            case DATE_TIME -> ValueKind.DATE_TIME;
            case YES_NO -> ValueKind.YES_NO;
            default -> ValueKind.TEXT;
        };
    }

    /** The word for it in definition files and JSON. */
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** The type that a word of a definition file stands for. */
    public static Optional<ParameterType> of(String word) {
        return Arrays.stream(values()).filter(type -> type.word().equals(word)).findFirst();
    }

    /** All words for types. */
    public static List<String> words() {
        return Arrays.stream(values()).map(ParameterType::word).toList();
    }
}
