package org.gantrel.core.text;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;

/** Plain English for lists, counts and durations, the same everywhere. */
public final class Words {

    private static final DateTimeFormatter MOMENT = DateTimeFormatter.ofPattern("EEE d MMM HH:mm", Locale.ENGLISH);
    private static final List<String> UNITS = List.of("bytes", "kB", "MB", "GB", "TB", "PB", "EB");

    private Words() {}

    /** {@code [a, b, c]} as {@code "a, b and c"}. */
    public static String list(List<String> words) {
        if (words.size() < 2) {
            return String.join("", words);
        }
        return String.join(", ", words.subList(0, words.size() - 1)) + " and " + words.get(words.size() - 1);
    }

    /** {@code "1 run"}, {@code "3 runs"}. */
    public static String count(long number, String noun) {
        return number + " " + noun + (number == 1 ? "" : "s");
    }

    /** A moment as people of a zone say it: {@code "Tue 24 Nov 01:45 (Europe/Oslo)"}. */
    public static String moment(Instant at, ZoneId zone) {
        return MOMENT.format(at.atZone(zone)) + " (" + zone.getId() + ")";
    }

    /** So many bytes, in the units that definitions count in (a kB is a thousand), never more than there are: {@code "82.6 GB"}. */
    public static String bytes(long bytes) {
        long whole = bytes;
        long tenth = 0;
        int unit = 0;
        for (; whole >= 1_000; unit++) {
            tenth = whole % 1_000 / 100;
            whole /= 1_000;
        }
        return whole + (whole < 100 && tenth > 0 ? "." + tenth : "") + " " + UNITS.get(unit);
    }

    /** A duration as a person says it: {@code "0.4 s"}, {@code "12 s"}, {@code "3 min 5 s"}, {@code "2 h 10 min"}, {@code
     * "3 days"}. */
    public static String duration(Duration duration) {
        long millis = Math.max(0, duration.toMillis());
        if (millis < 10_000) {
            return "%d.%d s".formatted(millis / 1000, millis % 1000 / 100);
        }
        long seconds = millis / 1000;
        if (seconds < 60) {
            return seconds + " s";
        }
        if (seconds < 600) {
            return seconds / 60 + " min" + (seconds % 60 == 0 ? "" : " " + seconds % 60 + " s");
        }
        long minutes = seconds / 60;
        if (minutes < 60) {
            return minutes + " min";
        }
        if (minutes >= 2 * 1_440 && minutes % 1_440 == 0) {
            return minutes / 1_440 + " days";
        }
        return minutes / 60 + " h" + (minutes % 60 == 0 ? "" : " " + minutes % 60 + " min");
    }
}
