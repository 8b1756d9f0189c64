package org.gantrel.core.when;

import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;

/**
 * Days told in words, without a time: {@code last Monday of May}, {@code 25 December}, {@code 2 days before Easter},
 * {@code 2026-12-24}.
 *
 * @param words the same in the one form in which it is printed
 */
public record DayPhrase(String words, DaySet days) {

    /**
     * The days of a recurrence rule of iCalendar, with its start.
     *
     * @throws WhenException where the text is none; it names the column
     */
    public static DayPhrase ofRule(String text) {
        Recurrence rule = RuleReader.read(text);
        if (rule.needsStart()) {
            throw new WhenException(1, "the rule needs its start: DTSTART:20261123 before RRULE:");
        }
        ZoneId zone = rule.ownZone().orElse(ZoneOffset.UTC);
        ZoneClock clock = ZoneClock.of(zone);
        return new DayPhrase(rule.phrase(), day -> rule.next(Instant.ofEpochSecond(clock.startOf(day) - 1), zone)
                .map(at -> clock.dayOf(at.getEpochSecond()))
                .orElse(DaySet.NEVER));
    }

    /**
     * Reads days.
     *
     * @throws WhenException where the text tells none; it names the column
     */
    public static DayPhrase parse(String text) {
        return parse(text, false);
    }

    /**
     * Reads days that were right when they were saved, by the rules of then.
     *
     * @throws WhenException where the text tells none by these either
     */
    public static DayPhrase parseKept(String text) {
        return parse(text, true);
    }

    private static DayPhrase parse(String text, boolean kept) {
        if (text.length() > 200) {
            throw new WhenException(201, "too long: at most 200 characters");
        }
        var tokens = new PhraseTokens(text);
        var reader = new PhraseDays(tokens, kept);
        tokens.peek("a day");
        boolean joined = true;
        while (tokens.hasMore()) {
            PhraseTokens.Token token = tokens.peek("");
            if (tokens.skip("every", "each")) {
                if (!tokens.nextIs("week", "month", "quarter", "year")) {
                    reader.added(joined);
                }
                reader.every();
            } else if (token.isDate()) {
                reader.date();
            } else if (!reader.clause(joined)) {
                throw PhraseTokens.wrong(
                        token,
                        "a day is expected, such as '25 December', 'last Monday of May' or '2026-12-24'",
                        List.of());
            }
            joined = tokens.skipSeparators();
        }
        DayChoice choice = reader.choice(true, "");
        if (choice.needsFrom()) {
            throw new WhenException(1, "days of every n-th week or month cannot stand here");
        }
        String words = (choice.head() + choice.season()).replaceFirst("^once on ", "");
        DaySet days = choice.days(0, DaySet.MONDAY_TO_FRIDAY);
        if (days.next(0) == DaySet.NEVER && !kept) {
            throw new WhenException(1, "'" + words + "' never comes: no such month has such a day");
        }
        return new DayPhrase(words, days);
    }
}
