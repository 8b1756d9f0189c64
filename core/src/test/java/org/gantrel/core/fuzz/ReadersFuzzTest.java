package org.gantrel.core.fuzz;

import com.code_intelligence.jazzer.api.FuzzedDataProvider;
import com.code_intelligence.jazzer.junit.FuzzTest;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.expression.Template;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.Durations;
import org.gantrel.core.text.Glob;
import org.gantrel.core.text.SafePattern;
import org.gantrel.core.text.SearchWords;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;
import org.junit.jupiter.api.DisplayName;

/**
 * Readers of what people write, given anything: each either reads it or says what is wrong with it. What was once found is
 * kept beside, and read again in every test run; {@code bin/fuzz} looks for more.
 */
@DisplayName("A reader that is given anything")
class ReadersFuzzTest {

    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");
    private static final Instant NIGHT = Instant.parse("2026-11-26T02:30:00Z");

    @FuzzTest(maxDuration = "1m")
    @DisplayName("reads definitions, or says what is wrong")
    void definitions(FuzzedDataProvider data) {
        try {
            DefinitionReader.read(data.consumeRemainingAsString());
        } catch (InvalidException refused) {
            said(refused.getMessage());
        }
    }

    @FuzzTest(maxDuration = "1m")
    @DisplayName("reads phrases, cron expressions and rules, and finds the next times of what it has read")
    void when(FuzzedDataProvider data) {
        try {
            Timetable timetable = When.parse(data.consumeRemainingAsString());
            timetable.startingAt(NIGHT, OSLO).next(NIGHT, OSLO);
            said(timetable.phrase());
        } catch (WhenException refused) {
            said(refused.getMessage());
        }
    }

    @FuzzTest(maxDuration = "1m")
    @DisplayName("works out expressions, or says what is wrong")
    void templates(FuzzedDataProvider data) {
        String text = data.consumeRemainingAsString();
        try {
            Template.of(text).check(List.of("route"));
            Template.of(text).fill(Map.of("route", "sound"), new PlannedTime(NIGHT, OSLO));
        } catch (ExpressionException refused) {
            said(refused.getMessage());
        }
    }

    @FuzzTest(maxDuration = "1m")
    @DisplayName("reads patterns, globs, durations and words to search for")
    void texts(FuzzedDataProvider data) {
        String text = data.consumeString(200);
        String other = data.consumeRemainingAsString();
        Durations.parse(text);
        SearchWords.of(text);
        try {
            SafePattern.of(text).isIn(other);
        } catch (IllegalArgumentException refused) {
            said(refused.getMessage());
        }
        try {
            Glob.of(text).matches(other);
        } catch (IllegalArgumentException refused) {
            said(refused.getMessage());
        }
    }

    private static void said(String message) {
        if (message == null || message.isBlank()) {
            throw new AssertionError("nothing was said");
        }
    }
}
