package org.gantrel.core.schedule;

import java.time.LocalDate;
import java.time.YearMonth;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.gantrel.core.when.DaySet;

/** What becomes of an occurrence that falls on a day which its calendar does not have. */
public enum Shift {
    /** It does not start. */
    SKIP,
    /** It starts on the next day that the calendar has. */
    FOLLOWING,
    /** It starts on the last day before that the calendar has. */
    PRECEDING,
    /** As following, unless that is in another month; then as preceding. */
    MODIFIED_FOLLOWING,
    /** It starts on the nearest day that the calendar has; the later of two that are as near. */
    NEAREST;

    /** How far an occurrence is moved at most, in days. */
    static final int FARTHEST = 400;

    /** The day that an occurrence goes to; {@link DaySet#NEVER} where there is none. */
    long target(long day, DaySet days) {
        if (days.holds(day)) {
            return day;
        }
        long later = within(days.next(day), day);
        long earlier = days.previous(day, FARTHEST);
        return switch (this) {
            case SKIP -> DaySet.NEVER;
            case FOLLOWING -> later;
            case PRECEDING -> earlier;
            case MODIFIED_FOLLOWING -> later != DaySet.NEVER && sameMonth(later, day) ? later : earlier;
            case NEAREST ->
                later == DaySet.NEVER || earlier != DaySet.NEVER && day - earlier < later - day ? earlier : later;
        };
    }

    private static long within(long found, long day) {
        return found != DaySet.NEVER && found - day <= FARTHEST ? found : DaySet.NEVER;
    }

    private static boolean sameMonth(long one, long other) {
        return YearMonth.from(LocalDate.ofEpochDay(one)).equals(YearMonth.from(LocalDate.ofEpochDay(other)));
    }

    /** The word for it in definition files, the command line and JSON. */
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** What it does to a start on a wrong day, to follow the start in a sentence. */
    public String effect() {
        return switch (this) {
            case SKIP -> "is left out";
            case FOLLOWING -> "moves to the next day of it";
            case PRECEDING -> "moves to the last day of it before";
            case MODIFIED_FOLLOWING -> "moves to the next day of it in the same month, or else to the last before";
            case NEAREST -> "moves to the nearest day of it";
        };
    }

    public static Optional<Shift> of(String word) {
        return Arrays.stream(values())
                .filter(shift -> shift.word().equals(word))
                .findFirst();
    }

    /** All words for shifts. */
    public static List<String> words() {
        return Arrays.stream(values()).map(Shift::word).toList();
    }
}
