package org.gantrel.core.sweep;

import static org.assertj.core.api.Assertions.assertThat;

import org.gantrel.core.roster.Roster.AfterFailure;
import org.gantrel.core.run.Emptiness;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.core.sweep.SweepCourse.Counts;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The course of a sweep")
class SweepCourseTest {

    private static final Stop CANCELLED = new Stop(Stop.Why.CANCEL, "mara");

    private static SweepCourse course(String counts, String after, boolean cancelled) {
        int[] of = new int[7];
        String[] each = counts.split(" ");
        for (int i = 0; i < of.length; i++) {
            of[i] = Integer.parseInt(each[i]);
        }
        return new SweepCourse(
                4,
                after.equals("stop") ? AfterFailure.STOP : AfterFailure.CARRY_ON,
                new Counts(of[0], of[1], of[2], of[3], of[4], of[5], of[6]),
                cancelled ? CANCELLED : Stop.NO,
                after.equals("warned") ? Emptiness.WARNED : Emptiness.SUCCEEDED);
    }

    @ParameterizedTest(
            name = "pending, under way, fine, warned, failed, left out, not reached: {0}, {1}, cancelled {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "9 1 0 0 0 0 0 | carry-on | false | 3 | -",
                "2 0 5 0 1 0 0 | carry-on | false | 2 | -",
                "9 4 0 0 0 0 0 | carry-on | false | 0 | -",
                "9 5 0 0 0 0 0 | carry-on | false | 0 | -",
                "9 1 3 0 1 0 0 | stop     | false | 0 | -",
                "9 0 3 0 1 0 0 | stop     | false | 0 | failed: 1 of 4 rows failed, 9 not reached: row 4",
                "0 0 3 1 1 2 0 | carry-on | false | 0 | failed: 1 of 5 rows failed, 2 left out: row 4",
                "0 0 3 1 0 0 0 | carry-on | false | 0 | warned: 1 of 4 rows with warnings",
                "0 0 1 0 0 0 0 | carry-on | false | 0 | succeeded: 1 row went well",
                "0 0 0 0 0 0 0 | carry-on | false | 0 | succeeded: 0 rows went well",
                "0 0 0 0 0 0 0 | warned   | false | 0 | warned: there are no rows",
                "0 0 0 0 0 3 0 | warned   | false | 0 | succeeded: 0 rows went well, 3 left out",
                "5 2 1 0 0 0 0 | carry-on | true  | 0 | -",
                "5 0 1 0 2 0 0 | carry-on | true  | 0 | cancelled: cancelled by mara after 1 row, 5 not reached"
            })
    void goesOn(String counts, String after, boolean cancelled, int beginning, String ending) {
        SweepCourse course = course(counts, after, cancelled);
        assertThat(course.beginning()).isEqualTo(beginning);
        assertThat(course.ending(() -> "row 4")
                        .map(end -> end.state().word() + ": " + end.message())
                        .orElse("-"))
                .isEqualTo(ending);
    }
}
