package org.gantrel.core.definition;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.MonthDay;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.gantrel.core.calendar.Calendar;
import org.gantrel.core.calendar.Calendar.Base;
import org.gantrel.core.calendar.Calendar.Hours;
import org.gantrel.core.calendar.Calendar.Move;
import org.gantrel.core.calendar.Calendar.Season;
import org.gantrel.core.calendar.Calendar.Special;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.when.DayPhrase;
import org.gantrel.core.when.DaySet;
import org.gantrel.core.when.WhenException;
import org.gantrel.core.yaml.Section;

/** Reads a calendar. */
final class CalendarForm {

    private static final Pattern HOURS = Pattern.compile("(\\d{1,2}):(\\d{2})\\s*-\\s*(\\d{1,2}):(\\d{2})");
    private static final Pattern MONTH_DAY = Pattern.compile("\\d{2}-\\d{2}");
    private static final List<String> BASES = List.of("days", "any-of", "all-of");
    private static final List<String> DAYS = new ArrayList<>(List.of("every day", "weekdays", "weekends", "none"));
    private static final List<String> MOVES = Arrays.stream(Move.values())
            .map(move -> move.name().toLowerCase(Locale.ROOT))
            .toList();

    static {
        Arrays.stream(DayOfWeek.values())
                .map(day -> day.name().toLowerCase(Locale.ROOT))
                .forEach(DAYS::add);
    }

    private CalendarForm() {}

    static Calendar read(Section section) {
        section.knowing(
                "calendar",
                "team",
                "about",
                "days",
                "any-of",
                "all-of",
                "except",
                "seasons",
                "closed",
                "open",
                "hours");
        return new Calendar(
                CommonForm.name(section, "calendar", "the name of the calendar"),
                CommonForm.team(section),
                CommonForm.about(section),
                base(section),
                names(section, "except"),
                seasons(section),
                specials(section, "closed"),
                specials(section, "open"),
                hours(section));
    }

    private static Base base(Section section) {
        List<String> given = BASES.stream().filter(section::has).toList();
        if (given.size() > 1) {
            section.complain(
                    given.get(1), "goes not together with '" + given.get(0) + "': a calendar begins with one of them");
        }
        if (section.has("any-of")) {
            return new Base.AnyOf(names(section, "any-of"));
        }
        if (section.has("all-of")) {
            return new Base.AllOf(names(section, "all-of"));
        }
        if (!section.has("days")) {
            return new Base.Week(0b1111111);
        }
        List<String> words = section.isList("days")
                ? section.texts("days", 20)
                : section.text("days", 20).stream().toList();
        int mask = 0;
        for (String word : words) {
            mask |= mask(section, word.strip().toLowerCase(Locale.ROOT));
        }
        return new Base.Week(mask);
    }

    private static int mask(Section section, String word) {
        switch (word) {
            case "every day" -> {
                return 0b1111111;
            }
            case "weekdays" -> {
                return 0b0011111;
            }
            case "weekends" -> {
                return 0b1100000;
            }
            case "none" -> {
                return 0;
            }
            default -> {
                int at = DAYS.indexOf(word);
                if (at < 0) {
                    section.complain(
                            "days",
                            "'" + word + "': " + String.join(", ", DAYS) + " would be right"
                                    + Nearest.hint(word, DAYS));
                    return 0;
                }
                return 1 << at - 4;
            }
        }
    }

    private static List<String> names(Section section, String key) {
        List<String> names = section.isList(key)
                ? section.texts(key, 60)
                : section.text(key, 60).stream().toList();
        if (section.has(key) && names.isEmpty()) {
            section.complain(key, "the names of calendars are expected");
        }
        return names;
    }

    private static List<Season> seasons(Section section) {
        var seasons = new ArrayList<Season>();
        for (Section form : section.sections("seasons")) {
            form.knowing("from", "to", "label");
            Optional<MonthDay> from = monthDay(form, "from");
            Optional<MonthDay> to = monthDay(form, "to");
            if (from.isPresent() && to.isPresent()) {
                seasons.add(
                        new Season(from.get(), to.get(), form.text("label", 100).orElse("")));
            }
        }
        return seasons;
    }

    private static Optional<MonthDay> monthDay(Section form, String key) {
        String text = form.needed(key, 10, "a day of the year as month and day, such as 04-15");
        try {
            if (MONTH_DAY.matcher(text).matches()) {
                return Optional.of(MonthDay.parse("--" + text));
            }
        } catch (DateTimeParseException e) {
            // the complaint below says what would be right
        }
        if (!text.isEmpty()) {
            form.complain(key, "'" + text + "': a month and a day such as 04-15 are expected");
        }
        return Optional.empty();
    }

    private static List<Special> specials(Section section, String key) {
        var specials = new ArrayList<Special>();
        for (Section form : section.sections(key)) {
            form.knowing("on", "rule", "from", "to", "label", "on-weekend");
            String label = form.text("label", 100).orElse("");
            if (Stream.of("on", "rule", "from").filter(form::has).count() != 1) {
                form.complain(
                        "on", "one of three is expected: on: 25 December, or from: and to: with two dates, or rule:");
            } else if (!form.has("from")) {
                if (form.has("to")) {
                    form.complain("to", "goes with 'from': it ends a span of days");
                }
                on(form, label).ifPresent(specials::add);
            } else {
                if (form.has("on-weekend")) {
                    form.complain("on-weekend", "goes with 'on' or 'rule': a span of days stays where it is");
                }
                range(form, label).ifPresent(specials::add);
            }
        }
        return specials;
    }

    private static Optional<Special> on(Section form, String label) {
        boolean rule = form.has("rule");
        String text = form.text(rule ? "rule" : "on", rule ? 4_000 : 200).orElse("");
        try {
            DayPhrase phrase = rule ? DayPhrase.ofRule(text) : DayPhrase.parse(text);
            return Optional.of(new Special(phrase.words(), phrase.days(), label, move(form)));
        } catch (WhenException e) {
            form.complain(rule ? "rule" : "on", "'" + text + "', " + e.sentence());
            return rule ? Optional.empty() : kept(form, text, label);
        }
    }

    /** What was right by earlier rules is complained of, and still read. */
    private static Optional<Special> kept(Section form, String text, String label) {
        try {
            DayPhrase phrase = DayPhrase.parseKept(text);
            return Optional.of(new Special(phrase.words(), phrase.days(), label, move(form)));
        } catch (WhenException e) {
            return Optional.empty();
        }
    }

    private static Optional<Special> range(Section form, String label) {
        Optional<LocalDate> from = CommonForm.date(form, "from");
        Optional<LocalDate> to = form.has("to") ? CommonForm.date(form, "to") : from;
        if (from.isEmpty() || to.isEmpty()) {
            return Optional.empty();
        }
        if (to.get().isBefore(from.get())) {
            form.complain("to", to.get() + " is before " + from.get());
            return Optional.empty();
        }
        long first = from.get().toEpochDay();
        long last = to.get().toEpochDay();
        DaySet days = day -> day > last ? DaySet.NEVER : Math.max(day, first);
        return Optional.of(new Special(from.get() + " to " + to.get(), days, label, Move.STAYS));
    }

    private static Move move(Section form) {
        return CommonForm.word(form, "on-weekend", MOVES)
                .map(word -> Move.values()[MOVES.indexOf(word)])
                .orElse(Move.STAYS);
    }

    private static Optional<Hours> hours(Section section) {
        Optional<String> text = section.text("hours", 20);
        if (text.isEmpty()) {
            return Optional.empty();
        }
        Matcher hours = HOURS.matcher(text.get().strip());
        if (hours.matches()) {
            int from = Integer.parseInt(hours.group(1)) * 60 + Integer.parseInt(hours.group(2));
            int until = Integer.parseInt(hours.group(3)) * 60 + Integer.parseInt(hours.group(4));
            if (from < until && until <= 1440) {
                return Optional.of(new Hours(from, until));
            }
        }
        section.complain("hours", "'" + text.get() + "': hours such as 08:00-16:00 are expected");
        return Optional.empty();
    }
}
