package org.gantrel.core.when;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import org.gantrel.core.text.Words;
import org.gantrel.core.when.RuleParts.Frequency;
import org.gantrel.core.when.RuleParts.NumberedDay;
import org.gantrel.core.when.RuleParts.Stamp;

/** Says in precise words what a recurrence rule stands for that no phrase stands for. */
final class RuleWords {

    private RuleWords() {}

    static String words(Recurrence rule) {
        RuleParts parts = rule.parts();
        var words = new ArrayList<String>();
        words.add("every " + (parts.interval() == 1 ? unit(parts) : parts.interval() + " " + unit(parts) + "s"));
        if (!parts.months().isEmpty()) {
            int mask = parts.months().stream().map(month -> 1 << month - 1).reduce(0, (one, other) -> one | other);
            words.add("in " + DayChoice.monthNames(mask));
        }
        numbers(words, "in week", parts.weekNumbers(), " of the year");
        numbers(words, "on day", parts.yearDays(), " of the year");
        numbers(words, "on day", parts.monthDays(), " of the month");
        if (!parts.days().isEmpty()) {
            words.add(
                    "on " + Words.list(parts.days().stream().map(RuleWords::day).toList()));
        }
        if (parts.hours().isEmpty()
                && parts.minutes().isEmpty()
                && parts.seconds().isEmpty()) {
            int second = rule.start().map(Stamp::second).orElse(0);
            if (parts.frequency().compareTo(Frequency.DAILY) >= 0) {
                words.add("at " + Rhythm.clock(second / 60) + (second % 60 == 0 ? "" : ":%02d".formatted(second % 60)));
            }
        }
        numbers(words, "at hour", parts.hours(), "");
        numbers(words, "at minute", parts.minutes(), "");
        numbers(words, "at second", parts.seconds(), "");
        String phrase = String.join(" ", words);
        if (!parts.positions().isEmpty()) {
            phrase += ", of these "
                    + Words.list(
                            parts.positions().stream().map(RuleWords::place).toList());
        }
        if (parts.weekStart() != 0) {
            phrase += ", weeks beginning on " + Item.name(parts.weekStart());
        }
        phrase += rule.start()
                .map(start -> ", from " + LocalDate.ofEpochDay(start.day()))
                .orElse("");
        phrase += parts.until()
                .map(until -> ", until " + LocalDate.ofEpochDay(until.day())
                        + (until.wholeDay()
                                ? ""
                                : " " + Rhythm.clock(until.second() / 60) + (until.utc() ? " UTC" : "")))
                .orElse("");
        phrase += parts.count().map(count -> ", " + Words.count(count, "time")).orElse("");
        phrase += rule.extraTimes() == 0 ? "" : ", and " + Words.count(rule.extraTimes(), "further time");
        return phrase + (rule.exceptions() == 0 ? "" : ", without " + Words.count(rule.exceptions(), "exception"));
    }

    private static String unit(RuleParts parts) {
        return switch (parts.frequency()) {
            case MINUTELY -> "minute";
            case HOURLY -> "hour";
            case DAILY -> "day";
            case WEEKLY -> "week";
            case MONTHLY -> "month";
            case YEARLY -> "year";
        };
    }

    private static void numbers(List<String> words, String title, List<Integer> numbers, String of) {
        if (!numbers.isEmpty()) {
            words.add(title + " "
                    + Words.list(numbers.stream()
                            .map(number -> number < 0 ? -number + " from the end" : String.valueOf(number))
                            .toList())
                    + of);
        }
    }

    private static String day(NumberedDay day) {
        return (day.place() == 0 ? "" : place(day.place()) + " ") + Item.name(day.weekday());
    }

    private static String place(int place) {
        return "the " + Ordinals.word(place);
    }
}
