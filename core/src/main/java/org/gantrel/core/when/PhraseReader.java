package org.gantrel.core.when;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.TextStyle;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;

/**
 * Reads the phrase language:
 *
 * <pre>
 * phrase  = "every" ( [number] ("minute" | "minutes" | "hour" | "hours") | days "at" time { ("," | "and") time } )
 * days    = "day" | "weekday" | "weekend" ["day"] | weekday { ("," | "and") weekday }
 * time    = hours ":" minutes
 * </pre>
 */
final class PhraseReader {

    private static final Pattern TOKEN = Pattern.compile("[^\\s,]+|,");
    private static final Pattern TIME = Pattern.compile("(\\d{1,2}):(\\d{2})");
    private static final List<String> UNITS = List.of("minutes", "minute", "hours", "hour");
    private static final List<String> DAYS;

    static {
        var days = new ArrayList<>(List.of("day", "weekday", "weekend"));
        for (DayOfWeek day : DayOfWeek.values()) {
            days.add(day.name().toLowerCase(Locale.ROOT));
        }
        DAYS = List.copyOf(days);
    }

    private record Token(String word, int column) {
        boolean is(String other) {
            return word.equals(other);
        }
    }

    private final String text;
    private final List<Token> tokens = new ArrayList<>();
    private int at;

    private PhraseReader(String text) {
        this.text = text;
        Matcher matcher = TOKEN.matcher(text);
        while (matcher.find()) {
            tokens.add(new Token(matcher.group().toLowerCase(Locale.ROOT), matcher.start() + 1));
        }
    }

    static Timetable read(String text) {
        return new PhraseReader(text).phrase();
    }

    private Timetable phrase() {
        expect("every");
        Token token = peek("'5 minutes' or 'day at 02:30'");
        if (token.word().chars().allMatch(Character::isDigit) || UNITS.contains(token.word())) {
            return steps();
        }
        return timesOfDay();
    }

    private Timetable steps() {
        Token number = tokens.get(at);
        int every = 1;
        if (!UNITS.contains(number.word())) {
            at++;
            every = number.word().length() > 4 ? 10_000 : Integer.parseInt(number.word());
        }
        Token unit = take("'minutes' or 'hours'");
        if (!UNITS.contains(unit.word())) {
            throw wrong(unit, "'minutes' or 'hours' is expected", UNITS);
        }
        boolean hours = unit.word().startsWith("hour");
        int most = hours ? 24 : 1440;
        if (every < 1 || every > most) {
            throw new WhenException(
                    number.column(), number.word() + " " + unit.word() + ": 1 to " + most + " would be right");
        }
        end();
        return new EvenSteps(
                every, hours ? "hour" : "minute", hours ? Duration.ofHours(every) : Duration.ofMinutes(every));
    }

    private Timetable timesOfDay() {
        BitSet weekdays = new BitSet();
        do {
            addDay(take("a day"), weekdays);
        } while (separator());
        expect("at");
        var times = new ArrayList<Timetable>();
        var days = new DayRule.Weekdays(weekdays);
        do {
            times.add(at(take("a time such as 02:30"), days));
        } while (separator());
        end();
        return new TimesOfDay(times);
    }

    private void addDay(Token token, BitSet weekdays) {
        switch (token.word()) {
            case "day" -> weekdays.set(0, 7);
            case "weekday" -> weekdays.set(1, 6);
            case "weekend" -> {
                weekdays.set(0);
                weekdays.set(6);
                if (at < tokens.size() && tokens.get(at).is("day")) {
                    at++;
                }
            }
            default -> weekdays.set(weekday(token));
        }
    }

    private int weekday(Token token) {
        for (DayOfWeek day : DayOfWeek.values()) {
            String name = day.getDisplayName(TextStyle.FULL, Locale.ENGLISH).toLowerCase(Locale.ROOT);
            if (token.word().length() >= 3 && name.startsWith(token.word())) {
                return day.getValue() % 7;
            }
        }
        throw wrong(token, "a day is expected: 'day', 'weekday', 'weekend' or a name such as 'Monday'", DAYS);
    }

    private Cron at(Token token, DayRule days) {
        Matcher time = TIME.matcher(token.word());
        if (!time.matches()) {
            throw new WhenException(token.column(), "'" + token.word() + "': a time such as 02:30 is expected");
        }
        int hour = Integer.parseInt(time.group(1));
        int minute = Integer.parseInt(time.group(2));
        if (hour > 23 || minute > 59) {
            throw new WhenException(token.column(), "'" + token.word() + "': 00:00 to 23:59 would be right");
        }
        return new Cron(text, only(minute), only(hour), days, from(1, 12), from(1970, 2199));
    }

    private boolean separator() {
        boolean more = false;
        while (at < tokens.size() && (tokens.get(at).is(",") || tokens.get(at).is("and"))) {
            at++;
            more = true;
        }
        return more;
    }

    private void expect(String word) {
        Token token = take("'" + word + "'");
        if (!token.is(word)) {
            throw wrong(token, "'" + word + "' is expected", List.of(word));
        }
    }

    private Token peek(String expected) {
        if (at >= tokens.size()) {
            throw new WhenException(
                    text.stripTrailing().length() + 1, "the phrase ends where " + expected + " is expected");
        }
        return tokens.get(at);
    }

    private Token take(String expected) {
        Token token = peek(expected);
        at++;
        return token;
    }

    private void end() {
        if (at < tokens.size()) {
            Token token = tokens.get(at);
            throw new WhenException(token.column(), "'" + token.word() + "': the phrase was complete before it");
        }
    }

    private static WhenException wrong(Token token, String expected, List<String> known) {
        return new WhenException(
                token.column(), "'" + token.word() + "': " + expected + Nearest.hint(token.word(), known));
    }

    private static BitSet only(int number) {
        return from(number, number);
    }

    private static BitSet from(int least, int most) {
        BitSet numbers = new BitSet();
        numbers.set(least, most + 1);
        return numbers;
    }

    /** Several times of the same days; the earliest comes first. */
    private record TimesOfDay(List<Timetable> parts) implements Timetable {
        @Override
        public Kind kind() {
            return Kind.PHRASE;
        }

        @Override
        public String phrase() {
            var times = parts.stream().map(Timetable::phrase).sorted().toList();
            String first = times.get(0);
            String days = first.substring(0, first.lastIndexOf(" at ") + 4);
            return days
                    + Words.list(times.stream()
                            .map(time -> time.substring(days.length()))
                            .distinct()
                            .toList());
        }

        @Override
        public Optional<Instant> next(Instant after, ZoneId zone) {
            return parts.stream()
                    .map(part -> part.next(after, zone))
                    .flatMap(Optional::stream)
                    .min(Instant::compareTo);
        }
    }
}
