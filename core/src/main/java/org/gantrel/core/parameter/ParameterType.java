package org.gantrel.core.parameter;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** What kind of value a parameter takes; each kind knows how to read one. */
public enum ParameterType {
    TEXT("any text of one line or more") {
        @Override
        Optional<String> read(String given) {
            return given.indexOf('\0') >= 0 ? Optional.empty() : Optional.of(given);
        }
    },
    NUMBER("a number such as 12 or 0.5") {
        @Override
        Optional<String> read(String given) {
            String text = given.strip();
            if (text.length() > 40 || !text.matches("[-+]?\\d+(\\.\\d+)?")) {
                return Optional.empty();
            }
            return Optional.of(new BigDecimal(text).toPlainString());
        }
    },
    DATE("a date such as 2026-11-23") {
        @Override
        Optional<String> read(String given) {
            try {
                return Optional.of(LocalDate.parse(given.strip()).toString());
            } catch (DateTimeParseException e) {
                return Optional.empty();
            }
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

    ParameterType(String allowed) {
        this.allowed = allowed;
    }

    /** The value in its one canonical form, or nothing where the text is not such a value. */
    abstract Optional<String> read(String given);

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
