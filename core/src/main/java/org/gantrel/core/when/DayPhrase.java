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
        if (text.length() > 200) {
            throw new WhenException(201, "too long: at most 200 characters");
        }
        var tokens = new PhraseTokens(text);
        var reader = new PhraseDays(tokens);
        tokens.peek("a day");
        while (tokens.hasMore()) {
            PhraseTokens.Token token = tokens.peek("");
            if (tokens.skip("every", "each")) {
                reader.every();
            } else if (token.isDate()) {
                reader.date();
            } else if (!reader.clause()) {
                throw PhraseTokens.wrong(
                        token,
                        "a day is expected, such as '25 December', 'last Monday of May' or '2026-12-24'",
                        List.of());
            }
            tokens.skipSeparators();
        }
        DayChoice choice = reader.choice(true);
        if (choice.needsFrom()) {
            throw new WhenException(1, "days of every n-th week or month cannot stand here");
        }
        String head = choice.head() + choice.season();
        return new DayPhrase(head.replaceFirst("^once on ", ""), choice.days(0, DaySet.MONDAY_TO_FRIDAY));
    }
}
