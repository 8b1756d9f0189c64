package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.util.List;
import java.util.Set;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.RunState;
import org.gantrel.core.trigger.FileWatch;
import org.gantrel.core.trigger.Trigger;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A trigger")
class TriggerFormTest {

    private static final String HEAD =
            "task: t\nteam: a\nparameters: { run: { type: number, default: 0 }, key: { type: secret, default: } }\n"
                            .replace(", key: { type: secret, default: }", "")
                    + "does: { command: [ x ] }\ntriggers:\n";

    private static List<Trigger> triggers(String text) {
        return DefinitionReader.readOne(HEAD + text).job().triggers();
    }

    @Test
    @DisplayName("waits for the end of a run or of a step, with values that speak of it")
    void waitsForAnEnd() {
        List<Trigger> triggers = triggers(
                """
                - { name: repair, on: run.ended, of: settle, ends: [ failed, timed-out ], when: "event.exit_code == 75", with: { run: "${event.run}" }, delay: 1 min }
                - { name: then, on: step.ended, of: night, step: report }
                """);
        Trigger repair = triggers.get(0);
        assertThat(repair.ends()).isEqualTo(Set.of(RunState.FAILED, RunState.TIMED_OUT));
        assertThat(repair.delay()).isEqualTo(Duration.ofMinutes(1));
        assertThat(repair.words()).isEqualTo("when settle failed or timed-out and event.exit_code == 75 1 min later");
        Trigger then = triggers.get(1);
        assertThat(then.words()).isEqualTo("when step report of night ended");
    }

    @Test
    @DisplayName("says in words what it waits for")
    void saysWhat() {
        String text =
                """
                - { name: a, on: file.arrived, under: /srv/tides/, matching: [ "*.csv", "x/*.txt" ], deep: 2, marker: .done, limit: { starts: 3, in: 10 min }, with: { run: "${event.size}" } }
                - { name: b, on: call.received, signature: kiosk, hours: { from: "22:00", until: "06:00", zone: Europe/Oslo, then: drop } }
                - { name: c, on: row.found, sql: "select id from booking", key: id, acts-as: bookings }
                - { name: d, on: job.silent, labels: [ night ], teams: [ fleet ], when: "event.what == 'good-within'" }
                """;
        assertThat(triggers(text))
                .extracting(Trigger::words)
                .containsExactly(
                        "when *.csv or x/*.txt in /srv/tides arrived; at most 3 in 10 min, the rest gathered into one",
                        "when another system calls; only from 22:00 until 06:00, dropped otherwise",
                        "when a new row is found",
                        "when a job is silent and event.what == 'good-within'");
        FileWatch files = triggers(text).get(0).source().files().orElseThrow();
        assertThat(List.of("a.csv", "sub/a.csv", "x/b.txt").stream().filter(files::isFor))
                .hasSize(3);
        assertThat(List.of("a.csv.done", "sub/deeper/a.csv", "b.txt", "y/b.txt").stream()
                        .filter(files::isFor))
                .isEmpty();
        assertThat(triggers(text).get(1).source().credentials()).containsExactly("kiosk");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "- { name: a, of: b } | is missing: the event, such as run.ended",
                "- { name: a, on: run.endet, of: b } | did you mean 'run.ended'?",
                "- { name: a, on: run.ended } | is missing: the job whose event it waits for",
                "- { name: a, on: step.ended, of: b } | is missing: the step of that chain",
                "- { name: a, on: run.ended, of: b, step: c } | unknown key",
                "- { name: a, on: run.ended, of: b, under: /srv } | unknown key",
                "- { name: a, on: run.ended, of: b, when: \"event.pth == 'x'\" } | did you mean 'event.at'",
                "- { name: a, on: file.arrived } | is missing: the full path of the folder",
                "- { name: a, on: file.arrived, under: tides } | is no full path",
                "- { name: a, on: file.arrived, under: /srv/../etc } | is no full path",
                "- { name: a, on: file.arrived, under: /srv, matching: '[' } | is no path or glob",
                "- { name: a, on: file.arrived, under: /srv, deep: 11 } | a whole number from 1 to 10",
                "- { name: a, on: file.aged, under: /srv } | the age from which on a file counts",
                "- { name: a, on: folder.silent, under: /srv } | for how long nothing may come",
                "- { name: a, on: call.received } | either 'token' or 'signature'",
                "- { name: a, on: call.received, token: a, signature: b } | either 'token' or 'signature'",
                "- { name: a, on: call.received, token: a, within: 1 h } | goes with 'signature'",
                "- { name: a, on: row.found, sql: select 1, acts-as: d } | the column that makes a row one and the same",
                "- { name: a, on: disk.low, limit: { in: 1 h } } | how many starts there may be",
                "- { name: a, on: disk.low, limit: { starts: 1, in: 1 h, then: wait } } | gather, drop",
                "- { name: a, on: disk.low, hours: { zone: UTC } } | says when it may start",
                "- { name: a, on: disk.low, hours: { from: '06:00', until: '06:00', zone: UTC } } | is the same time as 'from'",
                "- { name: a, on: run.ended, of: t } | would never come to rest",
                "- { name: a, on: run.ended, of: b, ends: [ faild ] } | did you mean 'failed'?",
                "- { name: a, on: run.ended, of: b, with: { runn: 1 } } | did you mean 'run'?",
                "- { name: a, on: run.ended, of: b, with: { run: \"${evnt.run}\" } } | nothing is known as 'evnt",
                "- { name: a, on: run.ended, of: b, when: event.run } | ",
                "- { name: a, on: run.ended, of: b, when: event.state } | is no condition",
                "- { name: a, on: run.ended, of: b, delay: soon } | a duration",
                "- { name: a, on: run.ended, of: b }\\n- { name: a, on: run.ended, of: c } | is the name of another trigger"
            })
    void isChecked(String text, String message) {
        if (message == null) {
            // what kind of value an event's number is shows only then
            assertThat(triggers(text)).hasSize(1);
            return;
        }
        assertThatThrownBy(() -> triggers(text.replace("\\n", "\n")))
                .isInstanceOfSatisfying(InvalidException.class, e -> assertThat(e.problems())
                        .anySatisfy(problem -> assertThat(problem.message()).contains(message)));
    }
}
