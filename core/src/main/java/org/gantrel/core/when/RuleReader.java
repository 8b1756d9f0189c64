package org.gantrel.core.when;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Zones;
import org.gantrel.core.when.RuleParts.Frequency;
import org.gantrel.core.when.RuleParts.NumberedDay;
import org.gantrel.core.when.RuleParts.Stamp;

/**
 * Reads recurrence rules of iCalendar (RFC 5545): a bare rule, {@code FREQ=WEEKLY;BYDAY=MO}, or the lines {@code
 * DTSTART}, {@code RRULE}, {@code RDATE} and {@code EXDATE}, which may also stand beside each other.
 */
final class RuleReader {

    /** The most times that are counted, and the most extra times and exceptions. */
    static final int MOST = 100_000;

    private static final Pattern PROPERTY = Pattern.compile("(?i)(DTSTART|RRULE|RDATE|EXDATE|[A-Z-]+)([;:])");
    private static final Pattern STAMP =
            Pattern.compile("(\\d{4})(\\d{2})(\\d{2})(?:T(\\d{2})(\\d{2})(\\d{2})(Z?))?(?:/.*)?");
    private static final Pattern DAY = Pattern.compile("([-+]?\\d{1,2})?(MO|TU|WE|TH|FR|SA|SU)");
    private static final List<String> DAYS = List.of("MO", "TU", "WE", "TH", "FR", "SA", "SU");
    private static final List<String> PARTS = List.of(
            "FREQ",
            "INTERVAL",
            "COUNT",
            "UNTIL",
            "BYMONTH",
            "BYWEEKNO",
            "BYYEARDAY",
            "BYMONTHDAY",
            "BYDAY",
            "BYHOUR",
            "BYMINUTE",
            "BYSECOND",
            "BYSETPOS",
            "WKST");
    private static final List<String> PROPERTIES = List.of("DTSTART", "RRULE", "RDATE", "EXDATE");

    private record Part(String value, int column) {}

    private final String text;
    private Optional<Stamp> start = Optional.empty();
    private Optional<ZoneId> zone = Optional.empty();
    private Optional<RuleParts> rule = Optional.empty();
    private final List<Stamp> more = new ArrayList<>();
    private final List<Stamp> except = new ArrayList<>();

    private RuleReader(String text) {
        this.text = text;
    }

    /** Whether a text is meant as a rule of iCalendar. */
    static boolean looksLikeRule(String text) {
        return text.strip().matches("(?is)(DTSTART|RRULE|RDATE|EXDATE)[;:].*|[A-Z]+=.*");
    }

    static Recurrence read(String text) {
        var reader = new RuleReader(text);
        Matcher words = Pattern.compile("\\S+").matcher(text);
        while (words.find()) {
            reader.line(words.group(), words.start() + 1);
        }
        RuleParts parts = reader.rule.orElseThrow(
                () -> new WhenException(text.stripTrailing().length() + 1, "a line RRULE:FREQ=... is missing"));
        return new Recurrence(text.strip(), reader.start, reader.zone, parts, reader.more, reader.except);
    }

    private void line(String line, int column) {
        Matcher property = PROPERTY.matcher(line);
        boolean bare = line.toUpperCase(Locale.ROOT).matches("[A-Z]+=.*");
        if (!property.lookingAt() || bare) {
            rule = Optional.of(rule(line, column));
            return;
        }
        String name = property.group(1).toUpperCase(Locale.ROOT);
        int colon = colon(line);
        if (colon < 0) {
            throw new WhenException(column, "'" + line + "': a colon is missing after " + name);
        }
        String options = line.substring(property.start(2), colon);
        String value = line.substring(colon + 1);
        int valueColumn = column + colon + 1;
        switch (name) {
            case "RRULE" -> rule = Optional.of(rule(value, valueColumn));
            case "DTSTART" -> {
                start = Optional.of(stamp(value, valueColumn));
                zone = start.get().utc() ? Optional.of(ZoneId.of("UTC")) : zone(options, property.start(2) + column);
            }
            case "RDATE" -> stamps(value, valueColumn, zone(options, property.start(2) + column), more);
            case "EXDATE" -> stamps(value, valueColumn, zone(options, property.start(2) + column), except);
            default ->
                throw new WhenException(
                        column,
                        "'" + name + "' is not understood here; DTSTART, RRULE, RDATE and EXDATE are"
                                + Nearest.hint(name, PROPERTIES));
        }
    }

    private static Optional<ZoneId> zone(String options, int column) {
        Matcher named = Pattern.compile("(?i);TZID=(?:\"([^\"]*)\"|([^;]*))").matcher(options);
        if (!named.find()) {
            return Optional.empty();
        }
        int group = named.group(1) == null ? 2 : 1;
        try {
            return Optional.of(ZoneId.of(named.group(group)));
        } catch (DateTimeException e) {
            throw new WhenException(
                    column + named.start(group),
                    "'" + named.group(group) + "' is no time zone" + Zones.hint(named.group(group)));
        }
    }

    /** Where the value of a property begins: at the colon that stands in no quotes. */
    private static int colon(String line) {
        boolean quoted = false;
        for (int i = 0; i < line.length(); i++) {
            if (line.charAt(i) == '"') {
                quoted = !quoted;
            } else if (line.charAt(i) == ':' && !quoted) {
                return i;
            }
        }
        return -1;
    }

    /** Times in a zone of their own are instants; others are in the zone of the start. */
    private void stamps(String values, int column, Optional<ZoneId> in, List<Stamp> into) {
        int at = column;
        for (String value : values.split(",")) {
            Stamp stamp = stamp(value, at);
            boolean local = in.isEmpty() || stamp.utc() || stamp.wholeDay();
            into.add(local ? stamp : Stamp.ofInstant(ZoneClock.of(in.get()).instant(stamp.day(), stamp.second())));
            at += value.length() + 1;
        }
    }

    private static Stamp stamp(String value, int column) {
        Matcher parts = STAMP.matcher(value.toUpperCase(Locale.ROOT));
        if (!parts.matches()) {
            throw new WhenException(column, "'" + value + "': a time such as 20261123T090000 is expected");
        }
        try {
            LocalDate date = LocalDate.of(number(parts, 1), number(parts, 2), number(parts, 3));
            boolean wholeDay = parts.group(4) == null;
            int hour = wholeDay ? 0 : number(parts, 4);
            int minute = wholeDay ? 0 : number(parts, 5);
            int second = wholeDay ? 0 : Math.min(59, number(parts, 6));
            if (hour > 23 || minute > 59) {
                throw new WhenException(column, "'" + value + "' is no time of the day");
            }
            return new Stamp(
                    date.toEpochDay(), hour * 3600 + minute * 60 + second, "Z".equals(parts.group(7)), wholeDay);
        } catch (DateTimeException e) {
            throw new WhenException(column, "'" + value + "' is no day of the calendar");
        }
    }

    private static int number(Matcher parts, int group) {
        return Integer.parseInt(parts.group(group));
    }

    private RuleParts rule(String value, int column) {
        if (rule.isPresent()) {
            throw new WhenException(column, "there is a rule already; two rules are two schedules");
        }
        Map<String, Part> parts = new LinkedHashMap<>();
        int at = column;
        for (String piece : value.split(";")) {
            int equals = piece.indexOf('=');
            String name = (equals < 0 ? piece : piece.substring(0, equals)).toUpperCase(Locale.ROOT);
            if (!PARTS.contains(name)) {
                throw new WhenException(at, "'" + name + "' is no part of a rule" + Nearest.hint(name, PARTS));
            }
            if (equals < 0) {
                throw new WhenException(at, name + " is missing its value");
            }
            if (parts.put(name, new Part(piece.substring(equals + 1).toUpperCase(Locale.ROOT), at + equals + 1))
                    != null) {
                throw new WhenException(at, name + " is given twice");
            }
            at += piece.length() + 1;
        }
        return new Assembly(parts, column).rule();
    }

    /** Puts the parts of a rule together and refuses what RFC 5545 does not allow side by side. */
    private static final class Assembly {
        private final Map<String, Part> parts;
        private final int column;

        private Assembly(Map<String, Part> parts, int column) {
            this.parts = parts;
            this.column = column;
        }

        RuleParts rule() {
            Frequency frequency = frequency();
            if (parts.containsKey("COUNT") && parts.containsKey("UNTIL")) {
                throw new WhenException(parts.get("COUNT").column(), "COUNT and UNTIL do not go together");
            }
            boolean yearly = frequency == Frequency.YEARLY;
            only("BYWEEKNO", yearly, "goes with FREQ=YEARLY only");
            only(
                    "BYYEARDAY",
                    yearly || frequency.compareTo(Frequency.DAILY) < 0,
                    "does not go with FREQ=DAILY, WEEKLY or MONTHLY");
            only("BYMONTHDAY", frequency != Frequency.WEEKLY, "does not go with FREQ=WEEKLY");
            List<NumberedDay> days = days();
            boolean placed = days.stream().anyMatch(day -> day.place() != 0);
            if (placed && !yearly && frequency != Frequency.MONTHLY || placed && parts.containsKey("BYWEEKNO")) {
                throw new WhenException(
                        parts.get("BYDAY").column(),
                        "days with a number go with FREQ=MONTHLY, or YEARLY without BYWEEKNO");
            }
            if (parts.containsKey("BYSETPOS")
                    && parts.keySet().stream().noneMatch(name -> name.startsWith("BY") && !name.equals("BYSETPOS"))) {
                throw new WhenException(
                        parts.get("BYSETPOS").column(), "BYSETPOS needs another BY part to choose from");
            }
            return new RuleParts(
                    frequency,
                    one("INTERVAL", 1, 10_000).orElse(1),
                    one("COUNT", 1, MOST),
                    Optional.ofNullable(parts.get("UNTIL")).map(part -> stamp(part.value(), part.column())),
                    numbers("BYMONTH", 1, 12, n -> n > 0),
                    numbers("BYWEEKNO", -53, 53, n -> n != 0),
                    numbers("BYYEARDAY", -366, 366, n -> n != 0),
                    numbers("BYMONTHDAY", -31, 31, n -> n != 0),
                    days,
                    numbers("BYHOUR", 0, 23, n -> true),
                    numbers("BYMINUTE", 0, 59, n -> true),
                    numbers("BYSECOND", 0, 60, n -> true).stream()
                            .map(second -> Math.min(59, second))
                            .distinct()
                            .toList(),
                    numbers("BYSETPOS", -366, 366, n -> n != 0),
                    weekStart());
        }

        private Frequency frequency() {
            Part part = parts.get("FREQ");
            if (part == null) {
                throw new WhenException(column, "FREQ is missing, such as FREQ=WEEKLY");
            }
            if (part.value().equals("SECONDLY")) {
                throw new WhenException(
                        part.column(), "SECONDLY is finer than a schedule goes; MINUTELY is the finest");
            }
            for (Frequency frequency : Frequency.values()) {
                if (frequency.name().equals(part.value())) {
                    return frequency;
                }
            }
            List<String> names =
                    List.of(Frequency.values()).stream().map(Enum::name).toList();
            throw new WhenException(
                    part.column(),
                    "'" + part.value() + "': " + String.join(", ", names) + " would be right"
                            + Nearest.hint(part.value(), names));
        }

        private void only(String name, boolean allowed, String otherwise) {
            if (parts.containsKey(name) && !allowed) {
                throw new WhenException(parts.get(name).column(), name + " " + otherwise);
            }
        }

        private Optional<Integer> one(String name, int least, int most) {
            List<Integer> found = numbers(name, least, most, n -> true);
            if (found.size() > 1) {
                throw new WhenException(parts.get(name).column(), name + " takes one number");
            }
            return found.stream().findFirst();
        }

        private List<Integer> numbers(String name, int least, int most, Predicate<Integer> allowed) {
            Part part = parts.get(name);
            if (part == null) {
                return List.of();
            }
            var numbers = new ArrayList<Integer>();
            int at = part.column();
            for (String piece : part.value().split(",", -1)) {
                boolean digits = piece.matches("[-+]?\\d{1,9}");
                int number = digits ? Integer.parseInt(piece) : 0;
                if (!digits || number < least || number > most || !allowed.test(number)) {
                    String range = least < 0 ? "1 to " + most + " or -1 to " + least : least + " to " + most;
                    throw new WhenException(at, name + " '" + piece + "': " + range + " would be right");
                }
                numbers.add(number);
                at += piece.length() + 1;
            }
            return numbers.stream().distinct().sorted().toList();
        }

        private List<NumberedDay> days() {
            Part part = parts.get("BYDAY");
            if (part == null) {
                return List.of();
            }
            var days = new ArrayList<NumberedDay>();
            int at = part.column();
            for (String piece : part.value().split(",", -1)) {
                Matcher day = DAY.matcher(piece);
                int place = 0;
                boolean right = day.matches();
                if (right && day.group(1) != null) {
                    place = Integer.parseInt(day.group(1));
                    right = place != 0 && Math.abs(place) <= 53;
                }
                if (!right) {
                    throw new WhenException(
                            at, "BYDAY '" + piece + "': MO, TU, WE, TH, FR, SA or SU, or 2MO or -1FR, would be right");
                }
                days.add(new NumberedDay(place, DAYS.indexOf(day.group(2))));
                at += piece.length() + 1;
            }
            return days.stream().distinct().toList();
        }

        private int weekStart() {
            Part part = parts.get("WKST");
            if (part == null) {
                return 0;
            }
            if (!DAYS.contains(part.value())) {
                throw new WhenException(part.column(), "WKST '" + part.value() + "': " + String.join(", ", DAYS));
            }
            return DAYS.indexOf(part.value());
        }
    }
}
