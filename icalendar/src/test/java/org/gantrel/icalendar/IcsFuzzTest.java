package org.gantrel.icalendar;

import com.code_intelligence.jazzer.api.FuzzedDataProvider;
import com.code_intelligence.jazzer.junit.FuzzTest;
import org.gantrel.core.problem.InvalidException;
import org.junit.jupiter.api.DisplayName;

@DisplayName("The reader of iCalendar files, given anything,")
class IcsFuzzTest {

    @FuzzTest(maxDuration = "1m")
    @DisplayName("reads days, or says what is wrong")
    void days(FuzzedDataProvider data) {
        boolean framed = data.consumeBoolean();
        String text = data.consumeRemainingAsString();
        try {
            IcsReader.read(
                    framed
                            ? "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n" + text + "\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
                            : text);
        } catch (InvalidException refused) {
            if (refused.getMessage().isBlank()) {
                throw new AssertionError("nothing was said");
            }
        }
    }
}
