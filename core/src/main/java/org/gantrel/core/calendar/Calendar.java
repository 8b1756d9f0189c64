package org.gantrel.core.calendar;

import java.time.LocalDate;
import java.time.MonthDay;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.when.DaySet;

/**
 * A named set of days, with labels for some of them and, where wanted, hours.
 *
 * @param base the days that it begins with
 * @param except calendars whose days are taken out
 * @param seasons where there are any, days outside them are closed
 * @param closed days that are closed, and days that are closed instead of those
 * @param open days that are open after all
 * @param hours the hours of an open day; nothing for the whole day
 */
public record Calendar(
        String name,
        String team,
        String about,
        Base base,
        List<String> except,
        List<Season> seasons,
        List<Special> closed,
        List<Special> open,
        Optional<Hours> hours) {

    public Calendar {
        except = List.copyOf(except);
        seasons = List.copyOf(seasons);
        closed = List.copyOf(closed);
        open = List.copyOf(open);
    }

    /** The days that a calendar begins with. */
    public sealed interface Base {

        /** Days of the week; bit 0 is Monday. */
        record Week(int mask) implements Base {}

        /** Days that any of some calendars has: their union. */
        record AnyOf(List<String> calendars) implements Base {}

        /** Days that all of some calendars have: their intersection. */
        record AllOf(List<String> calendars) implements Base {}
    }

    /** A part of every year, both ends included; one that ends before it begins goes on past the end of the year. */
    public record Season(MonthDay from, MonthDay to, String label) {

        boolean holds(LocalDate date) {
            MonthDay day = MonthDay.from(date);
            boolean begun = !day.isBefore(from);
            boolean notOver = !day.isAfter(to);
            return from.isAfter(to) ? begun || notOver : begun && notOver;
        }
    }

    /**
     * Days with a label.
     *
     * @param words the days as they were written
     * @param move where the day goes that falls on a weekend
     */
    public record Special(String words, DaySet days, String label, Move move) {}

    /** What becomes of a holiday that falls on a day which is closed anyway. */
    public enum Move {
        STAYS,
        FOLLOWING,
        PRECEDING,
        NEAREST
    }

    /** Hours of the day in minutes since midnight; {@code until} is not part of them. */
    public record Hours(int from, int until) {
        public boolean hold(int minute) {
            return from <= minute && minute < until;
        }

        @Override
        public String toString() {
            return "%02d:%02d-%02d:%02d".formatted(from / 60, from % 60, until / 60, until % 60);
        }
    }

    /** The calendars that it is made from. */
    public List<String> others() {
        var others = new ArrayList<>(except);
        if (base instanceof Base.AnyOf any) {
            others.addAll(any.calendars());
        } else if (base instanceof Base.AllOf all) {
            others.addAll(all.calendars());
        }
        return others;
    }
}
