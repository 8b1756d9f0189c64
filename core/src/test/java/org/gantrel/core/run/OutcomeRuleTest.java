package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import javax.xml.stream.XMLStreamException;
import org.gantrel.core.run.OutcomeRule.ErrorStream;
import org.gantrel.core.run.OutcomeRule.Evidence;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The rule for what counts as a failure")
class OutcomeRuleTest {

    @ParameterizedTest(name = "code {0}, failing line {1}, warning line {2}, error line {3} with the stream {4}: {5}")
    @CsvSource({
        "0, , , , FAILED, exit code 0, succeeded",
        "0, ERROR no route, , , ALLOWED, it said: ERROR no route, failed",
        "0, , WARN slow, , ALLOWED, it said: WARN slow, warned",
        "0, ERROR no route, WARN slow, , ALLOWED, it said: ERROR no route, failed",
        "0, , , oops, ALLOWED, exit code 0, succeeded",
        "0, , , oops, WARNED, it wrote to its error stream: oops, warned",
        "0, , , oops, FAILED, it wrote to its error stream: oops, failed",
        "3, , , , ALLOWED, 'exit code 3, which this job counts as a warning', warned",
        "3, , , oops, FAILED, it wrote to its error stream: oops, failed",
        "1, ERROR no route, , , ALLOWED, exit code 1, failed"
    })
    void takesTheWorst(
            int code, String failing, String warning, String error, ErrorStream stream, String message, String state) {
        var rule = new OutcomeRule(new ExitRule(Set.of(0), Set.of(3)), List.of(), List.of(), stream, "");
        var evidence = new Evidence(
                Optional.ofNullable(failing), Optional.ofNullable(warning), Optional.ofNullable(error), List.of());
        assertThat(rule.ending(code, evidence))
                .isEqualTo(new Ending(RunState.of(state).orElseThrow(), message));
    }

    @Test
    @DisplayName("reads the test cases of a JUnit XML file as items, and one that failed fails the run")
    void readsTestCases() throws Exception {
        List<Item> items = read(
                """
                <!DOCTYPE x>
                <testsuites><testsuite name="kiosk">
                  <testcase classname="Kiosk" name="opens" time="0.25"/>
                  <testcase classname="Kiosk" name="sells"><failure message="sold nothing">at ...</failure></testcase>
                  <testcase name="rests"><skipped/></testcase>
                </testsuite></testsuites>
                """);
        assertThat(items)
                .extracting(item -> item.name() + " " + item.state().word() + " " + item.seen() + " "
                        + item.took().toMillis())
                .containsExactly(
                        "Kiosk: opens succeeded  250", "Kiosk: sells failed sold nothing 0", "rests skipped  0");
        assertThat(OutcomeRule.USUAL.ending(
                        0, new Evidence(Optional.empty(), Optional.empty(), Optional.empty(), items)))
                .isEqualTo(new Ending(RunState.FAILED, "1 of 3 items failed: Kiosk: sells (sold nothing)"));
        assertThatThrownBy(() -> read("no xml")).isInstanceOf(XMLStreamException.class);
    }

    private static List<Item> read(String xml) throws Exception {
        return TestResults.read(new ByteArrayInputStream(xml.getBytes(StandardCharsets.UTF_8)), TestResults.MOST_ITEMS);
    }
}
