package org.gantrel.core.when;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.gantrel.core.text.Nearest;

/** The five fields of a POSIX crontab expression and the sixth, the year. */
enum CronField {
    MINUTE("minute", 0, 59, Map.of()),
    HOUR("hour", 0, 23, Map.of()),
    DAY("day of the month", 1, 31, Map.of()),
    MONTH(
            "month",
            1,
            12,
            names(
                    List.of(
                            "january",
                            "february",
                            "march",
                            "april",
                            "may",
                            "june",
                            "july",
                            "august",
                            "september",
                            "october",
                            "november",
                            "december"),
                    1)),
    WEEKDAY(
            "weekday",
            0,
            7,
            names(List.of("sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"), 0)),
    YEAR("year", 1970, 2199, Map.of());

    final String title;
    final int least;
    final int most;
    final Map<String, Integer> names;

    CronField(String title, int least, int most, Map<String, Integer> names) {
        this.title = title;
        this.least = least;
        this.most = most;
        this.names = names;
    }

    /** What a value may be, for messages. */
    String range() {
        return this == WEEKDAY ? "0 to 7, where 0 and 7 are Sunday" : least + " to " + most;
    }

    /** The number that a piece of a field stands for. */
    int value(String piece, int column) {
        Integer named = names.get(piece.toLowerCase(Locale.ROOT));
        if (named != null) {
            return named;
        }
        if (piece.isEmpty()) {
            throw new WhenException(column, title + " is missing a number: " + range());
        }
        if (!piece.matches("[0-9]{1,4}")) {
            String allowed = names.isEmpty() ? range() : range() + ", or a name such as " + example();
            throw new WhenException(
                    column, title + " '" + piece + "': " + allowed + Nearest.hint(piece, names.keySet()));
        }
        int number = Integer.parseInt(piece);
        if (number < least || number > most) {
            throw new WhenException(column, title + " " + number + ": " + range());
        }
        return number;
    }

    private String example() {
        return this == MONTH ? "JAN" : "MON";
    }

    /** Names in full and by their first three letters. */
    private static Map<String, Integer> names(List<String> words, int first) {
        var map = new HashMap<String, Integer>();
        for (int i = 0; i < words.size(); i++) {
            map.put(words.get(i), first + i);
            map.put(words.get(i).substring(0, 3), first + i);
        }
        return Map.copyOf(map);
    }
}
