package org.gantrel.core.text;

import java.time.Duration;
import java.time.format.DateTimeParseException;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads how long something is as people write it ({@code 90 s}, {@code 1 h 30 min}, {@code 2 days}), or as ISO 8601 does. */
public final class Durations {

    /** What a complaint offers. */
    public static final String FORM = "such as 90 s, 30 min, 1 h 30 min or 2 days";

    private static final Pattern PART = Pattern.compile("(\\d{1,9}(?:\\.\\d{1,3})?)\\s*([a-z]+)\\s*");
    private static final Map<String, Long> MILLIS = Map.ofEntries(
            Map.entry("ms", 1L),
            Map.entry("s", 1_000L),
            Map.entry("sec", 1_000L),
            Map.entry("second", 1_000L),
            Map.entry("seconds", 1_000L),
            Map.entry("min", 60_000L),
            Map.entry("minute", 60_000L),
            Map.entry("minutes", 60_000L),
            Map.entry("h", 3_600_000L),
            Map.entry("hour", 3_600_000L),
            Map.entry("hours", 3_600_000L),
            Map.entry("d", 86_400_000L),
            Map.entry("day", 86_400_000L),
            Map.entry("days", 86_400_000L),
            Map.entry("week", 604_800_000L),
            Map.entry("weeks", 604_800_000L));

    private Durations() {}

    /** The duration that a text says; nothing where it says none. */
    public static Optional<Duration> parse(String text) {
        String stripped = text.strip();
        if (stripped.startsWith("P") || stripped.startsWith("p")) {
            return iso(stripped);
        }
        Matcher part = PART.matcher(stripped);
        Duration sum = Duration.ZERO;
        int at = 0;
        while (part.find() && part.start() == at) {
            Long unit = MILLIS.get(part.group(2));
            if (unit == null) {
                return Optional.empty();
            }
            sum = sum.plusMillis(Math.round(Double.parseDouble(part.group(1)) * unit));
            at = part.end();
        }
        return at == stripped.length() && at > 0 ? Optional.of(sum) : Optional.empty();
    }

    private static Optional<Duration> iso(String text) {
        try {
            return Optional.of(Duration.parse(text)).filter(duration -> !duration.isNegative());
        } catch (DateTimeParseException e) {
            return Optional.empty();
        }
    }
}
