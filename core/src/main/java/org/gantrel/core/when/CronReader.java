package org.gantrel.core.when;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.gantrel.core.text.Nearest;

/** Reads a crontab expression (POSIX.1-2017, crontab) with a sixth field for the year and {@code L}, {@code W}, {@code #}. */
final class CronReader {

    private static final Pattern STEPPED = Pattern.compile("([*?]|[0-9A-Za-z]+(?:-[0-9A-Za-z]+)?)/(\\d{1,3})");
    private static final int LARGEST_STEP = 60;
    private static final Pattern WORD = Pattern.compile("\\S+");
    private static final Pattern LAST_DAY = Pattern.compile("[lL](?:-(\\d{1,2}))?");
    private static final Pattern LAST_WORKDAY = Pattern.compile("(?i)lw");
    private static final Pattern NEAREST_WORKDAY = Pattern.compile("(\\d{1,2})[wW]");
    private static final Pattern LAST_WEEKDAY = Pattern.compile("(\\w+)[lL]");
    private static final Pattern NTH_WEEKDAY = Pattern.compile("(\\w+)#(\\w*)");

    private record Part(String text, int column) {}

    private CronReader() {}

    /** Crontab's own words for whole expressions. */
    private static final Map<String, String> NICKNAMES = Map.of(
            "@hourly", "0 * * * *",
            "@daily", "0 0 * * *",
            "@midnight", "0 0 * * *",
            "@weekly", "0 0 * * 0",
            "@monthly", "0 0 1 * *",
            "@yearly", "0 0 1 1 *",
            "@annually", "0 0 1 1 *");

    static Cron read(String text) {
        String word = text.strip().toLowerCase(Locale.ROOT);
        if (!word.startsWith("@")) {
            return fields(text);
        }
        if (!NICKNAMES.containsKey(word)) {
            throw new WhenException(
                    text.indexOf('@') + 1,
                    "'" + text.strip() + "': @hourly, @daily, @weekly, @monthly or @yearly would be right"
                            + Nearest.hint(word, NICKNAMES.keySet()));
        }
        return fields(NICKNAMES.get(word));
    }

    /** Earlier a step could be larger than its range: it stood for the first number of that alone. */
    static Cron readKept(String text) {
        Matcher pieces = STEPPED.matcher(text);
        var shorter = new StringBuilder();
        while (pieces.find()) {
            String first = pieces.group(1);
            boolean large = Integer.parseInt(pieces.group(2)) > LARGEST_STEP;
            String alone = first.startsWith("*") || first.startsWith("?") ? "0" : first.replaceFirst("-.*", "");
            pieces.appendReplacement(shorter, large ? alone : Matcher.quoteReplacement(pieces.group()));
        }
        return read(pieces.appendTail(shorter).toString());
    }

    private static Cron fields(String text) {
        List<Part> parts = parts(text);
        if (parts.size() < 5 || parts.size() > 6) {
            throw new WhenException(
                    parts.size() < 5
                            ? text.stripTrailing().length() + 1
                            : parts.get(6).column(),
                    "a cron expression has five fields (minute, hour, day, month, weekday) and may have a sixth, the"
                            + " year; here are " + parts.size());
        }
        try {
            return cron(text, parts);
        } catch (WhenException e) {
            String seconds = parts.size() < 6
                    ? ""
                    : otherwise(parts)
                            .map(shorter -> "; six fields end with the year, and if the first was meant for seconds, '"
                                    + shorter + "' would be right")
                            .orElse("");
            throw new WhenException(e.column(), e.getMessage() + seconds);
        }
    }

    private static Cron cron(String text, List<Part> parts) {
        var times = new Times.Grid(
                (int) bits(numbers(CronField.HOUR, parts.get(1))), bits(numbers(CronField.MINUTE, parts.get(0))));
        var items = new ArrayList<Item>();
        int weekdays = weekdays(parts.get(4), items);
        dates(parts.get(2), items);
        int months = (int) bits(numbers(CronField.MONTH, parts.get(3))) >>> 1;
        return Cron.of(text.strip(), times, items, weekdays, months, years(parts), secondsFirst(parts));
    }

    private static Optional<BitSet> years(List<Part> parts) {
        if (parts.size() < 6 || open(parts.get(5))) {
            return Optional.empty();
        }
        return Optional.of(numbers(CronField.YEAR, parts.get(5)));
    }

    /** What to beware of where six fields may have been written with seconds first. */
    private static List<String> secondsFirst(List<Part> parts) {
        if (parts.size() < 6 || !open(parts.get(5))) {
            return List.of();
        }
        return otherwise(parts)
                .map(shorter -> "six fields are read as minute " + parts.get(0).text() + ", hour "
                        + parts.get(1).text() + ", day " + parts.get(2).text() + ", month "
                        + parts.get(3).text() + ", weekday " + parts.get(4).text() + ", year "
                        + parts.get(5).text() + "; if the first was meant for seconds, '" + shorter + "' ("
                        + fields(shorter).phrase() + ") would be right")
                .stream()
                .toList();
    }

    /** The five fields after the first of six, where these are an expression and the first may be a second. */
    private static Optional<String> otherwise(List<Part> parts) {
        String shorter = parts.stream().skip(1).map(Part::text).collect(Collectors.joining(" "));
        try {
            numbers(CronField.MINUTE, parts.get(0));
            fields(shorter);
            return Optional.of(shorter);
        } catch (WhenException e) {
            return Optional.empty();
        }
    }

    private static List<Part> parts(String text) {
        var parts = new ArrayList<Part>();
        Matcher words = WORD.matcher(text);
        while (words.find()) {
            parts.add(new Part(words.group(), words.start() + 1));
        }
        return parts;
    }

    private static void dates(Part day, List<Item> items) {
        if (open(day)) {
            return;
        }
        for (Part piece : pieces(day)) {
            Optional<Item> special = specialDate(piece);
            special.ifPresent(items::add);
            if (special.isEmpty()) {
                numbers(CronField.DAY, piece).stream().forEach(number -> items.add(new Item.DayNumber(number)));
            }
        }
    }

    /** The plain weekdays, bit 0 for Monday; those by their place in the month are added to the items. */
    private static int weekdays(Part weekday, List<Item> items) {
        int mask = 0;
        if (open(weekday)) {
            return mask;
        }
        for (Part piece : pieces(weekday)) {
            Optional<Item> special = specialWeekday(piece);
            special.ifPresent(items::add);
            if (special.isEmpty()) {
                mask |= numbers(CronField.WEEKDAY, piece).stream()
                        .map(number -> 1 << (number + 6) % 7)
                        .reduce(0, (one, other) -> one | other);
            }
        }
        return mask;
    }

    private static long bits(BitSet numbers) {
        return numbers.toLongArray()[0];
    }

    private static boolean open(Part field) {
        return field.text().equals("*") || field.text().equals("?");
    }

    private static Optional<Item> specialDate(Part piece) {
        Matcher last = LAST_DAY.matcher(piece.text());
        if (last.matches()) {
            int before = last.group(1) == null ? 0 : Integer.parseInt(last.group(1));
            if (before > 30) {
                throw new WhenException(piece.column() + 2, "L-" + before + ": at most 30 days before the last");
            }
            return Optional.of(new Item.BeforeLast(before));
        }
        if (LAST_WORKDAY.matcher(piece.text()).matches()) {
            return Optional.of(new Item.NthOfMondayToFriday(-1));
        }
        Matcher nearest = NEAREST_WORKDAY.matcher(piece.text());
        if (nearest.matches()) {
            return Optional.of(new Item.Nearest(CronField.DAY.value(nearest.group(1), piece.column())));
        }
        if (piece.text().matches("(?i)l.*")) {
            throw new WhenException(
                    piece.column(),
                    "day of the month '" + piece.text() + "': L is the last day, L-2 two days before it, LW the last"
                            + " weekday; it takes no step and no further letter");
        }
        return Optional.empty();
    }

    private static Optional<Item> specialWeekday(Part piece) {
        Matcher nth = NTH_WEEKDAY.matcher(piece.text());
        if (nth.matches()) {
            int weekday = fromMonday(CronField.WEEKDAY.value(nth.group(1), piece.column()));
            if (!nth.group(2).matches("[1-5]")) {
                throw new WhenException(
                        piece.column() + nth.start(2), "'#" + nth.group(2) + "': #1 to #5, the first to the fifth");
            }
            return Optional.of(new Item.Nth(Integer.parseInt(nth.group(2)), weekday));
        }
        if (piece.text().equalsIgnoreCase("L")) {
            throw new WhenException(piece.column(), "L needs its weekday here, such as 5L for the last Friday");
        }
        Matcher last = LAST_WEEKDAY.matcher(piece.text());
        if (last.matches() && !CronField.WEEKDAY.names.containsKey(piece.text().toLowerCase(Locale.ROOT))) {
            return Optional.of(new Item.Nth(-1, fromMonday(CronField.WEEKDAY.value(last.group(1), piece.column()))));
        }
        return Optional.empty();
    }

    /** Cron counts weekdays from Sunday, 0 or 7; here Monday is 0. */
    private static int fromMonday(int weekday) {
        return (weekday + 6) % 7;
    }

    private static List<Part> pieces(Part field) {
        var pieces = new ArrayList<Part>();
        int at = 0;
        for (String piece : field.text().split(",", -1)) {
            pieces.add(new Part(piece, field.column() + at));
            at += piece.length() + 1;
        }
        return pieces;
    }

    private static BitSet numbers(CronField field, Part part) {
        BitSet numbers = new BitSet();
        for (Part piece : pieces(part)) {
            addRange(field, piece, numbers);
        }
        return numbers;
    }

    private static void addRange(CronField field, Part piece, BitSet numbers) {
        String[] stepped = piece.text().split("/", -1);
        int step = stepped.length == 1 ? 1 : step(field, piece, stepped);
        String range = stepped[0];
        int from;
        int to;
        if (range.equals("*") || range.equals("?")) {
            from = field.least;
            to = field == CronField.WEEKDAY ? 6 : field.most;
        } else {
            int dash = range.indexOf('-');
            from = field.value(dash < 0 ? range : range.substring(0, dash), piece.column());
            to = dash < 0
                    ? (stepped.length == 1 ? from : field.most)
                    : field.value(range.substring(dash + 1), piece.column() + dash + 1);
            if (field == CronField.WEEKDAY && dash >= 0 && to == 0 && from > 0) {
                to = 7;
            }
        }
        if (to < from) {
            throw new WhenException(
                    piece.column(),
                    "the " + field.title + " range " + range + " runs backwards; write it as two ranges");
        }
        if (to > from && step > to - from + 1) {
            throw new WhenException(
                    piece.column() + range.length() + 1,
                    field.title + " step " + step + " is larger than the range, " + from + " to " + to + "; at most "
                            + (to - from + 1) + " would be right");
        }
        for (int number = from; number <= to; number += step) {
            numbers.set(number);
        }
    }

    private static int step(CronField field, Part piece, String[] stepped) {
        int column = piece.column() + stepped[0].length() + 1;
        if (stepped.length > 2) {
            throw new WhenException(column, "only one step is possible in " + field.title + " '" + piece.text() + "'");
        }
        if (!stepped[1].matches("\\d{1,3}") || Integer.parseInt(stepped[1]) == 0) {
            throw new WhenException(column, field.title + " step '" + stepped[1] + "': a number from 1 on");
        }
        return Integer.parseInt(stepped[1]);
    }
}
