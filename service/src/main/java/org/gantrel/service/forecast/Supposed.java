package org.gantrel.service.forecast;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiConsumer;
import org.gantrel.core.lane.Lane;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Durations;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;

/**
 * What a forecast supposes to be otherwise than it is; nothing of it is saved.
 *
 * @param places of the service
 * @param widths of lanes
 * @param durations of jobs
 * @param schedules other rules, by job and schedule with a slash between
 */
record Supposed(
        Optional<Integer> places,
        Map<String, Integer> widths,
        Map<String, Duration> durations,
        Map<String, String> schedules) {

    static final Supposed NOTHING = new Supposed(Optional.empty(), Map.of(), Map.of(), Map.of());
    private static final int MOST = 50;
    private static final String FORM =
            "lane.NAME=2, duration.JOB=45 min, places=8 or schedule.JOB/SCHEDULE=every day at 03:00";

    /**
     * Reads suppositions such as {@code lane.card-processor=2}.
     *
     * @param check adds what is wrong with those that can be read
     * @throws InvalidException with each that is none
     */
    static Supposed of(List<String> texts, BiConsumer<Supposed, List<Problem>> check) {
        if (texts.size() > MOST) {
            throw new InvalidException("suppose", "at most " + MOST + " are taken at once");
        }
        Optional<Integer> places = Optional.empty();
        var widths = new HashMap<String, Integer>();
        var durations = new HashMap<String, Duration>();
        var schedules = new HashMap<String, String>();
        var problems = new ArrayList<Problem>();
        var keys = new HashSet<String>();
        for (String text : texts) {
            int at = text.indexOf('=');
            String key = at < 0 ? text : text.substring(0, at).strip();
            String value = at < 0 ? "" : text.substring(at + 1).strip();
            Optional<Integer> number = number(value);
            if (!keys.add(key)) {
                problems.add(Problem.of("suppose", "'" + brief(key) + "' is supposed twice"));
                continue;
            }
            if (key.equals("places") && number.isPresent()) {
                places = number;
            } else if (key.startsWith("lane.") && number.isPresent()) {
                widths.put(key.substring(5), number.get());
            } else if (key.startsWith("duration.") && Durations.parse(value).isPresent()) {
                durations.put(key.substring(9), Durations.parse(value).get());
            } else if (key.matches("schedule\\.[^/]+/[^/]+") && value.length() <= When.LONGEST) {
                rule(key, value, schedules, problems);
            } else if (at >= 0 && (key.equals("places") || key.startsWith("lane."))) {
                problems.add(Problem.of("suppose", "'" + brief(text) + "': 1 to " + Lane.WIDEST + " places"));
            } else if (at >= 0 && key.startsWith("duration.")) {
                problems.add(
                        Problem.of("suppose", "'" + brief(text) + "': a duration such as 90 s, 45 min or 1 h 30 min"));
            } else {
                problems.add(Problem.of("suppose", "'" + brief(text) + "': such as " + FORM));
            }
        }
        var supposed = new Supposed(places, widths, durations, schedules);
        check.accept(supposed, problems);
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return supposed;
    }

    private static void rule(String key, String value, Map<String, String> schedules, List<Problem> problems) {
        try {
            Timetable timetable = When.parse(value);
            if (timetable.needsStart()) {
                problems.add(Problem.of("suppose", "'" + brief(value) + "' needs its start: DTSTART before RRULE"));
            } else {
                schedules.put(key.substring("schedule.".length()), value);
            }
        } catch (WhenException e) {
            problems.add(Problem.of("suppose", "'" + brief(value) + "', " + e.sentence()));
        }
    }

    private static Optional<Integer> number(String text) {
        return text.matches("\\d{1,4}") && Integer.parseInt(text) >= 1 && Integer.parseInt(text) <= Lane.WIDEST
                ? Optional.of(Integer.parseInt(text))
                : Optional.empty();
    }

    private static String brief(String text) {
        return text.length() <= 80 ? text : text.substring(0, 80) + "...";
    }
}
