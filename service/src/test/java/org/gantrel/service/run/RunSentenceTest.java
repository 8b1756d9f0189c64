package org.gantrel.service.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunEvent;
import org.gantrel.core.run.RunLife;
import org.gantrel.core.run.RunPolicy;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus;
import org.gantrel.service.job.JobEntry;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The sentence of a run")
class RunSentenceTest {

    private static final Instant PLANNED = Instant.parse("2026-11-23T01:30:00Z");
    private static final PlannedTime NIGHT = new PlannedTime(PLANNED, ZoneId.of("Europe/Oslo"));
    private static final String NIGHTLY =
            "Run 1042 of settle-tickets, started by the schedule nightly for 02:30 on Monday 23 November (Europe/Oslo), ";

    private static final JobEntry JOB = new JobEntry(1, "settle-tickets", 1, "revenue", "task", "", 1, false);
    private static final RunPolicy POLICY = RunPolicy.task(Optional.of(Duration.ofSeconds(10)));

    private static RunRecord record(CauseKind cause, String reference, String starter, String step) {
        var from = new NewRun(
                JOB,
                Map.of(),
                cause,
                reference,
                starter,
                NIGHT,
                Optional.empty(),
                step,
                Optional.empty(),
                Optional.empty(),
                false,
                1);
        return new RunRecord(1042, from, Map.of("route", "sound"), "", PLANNED);
    }

    private static Run run(CauseKind cause, String reference, String starter, String step) {
        return record(cause, reference, starter, step).value();
    }

    private static Run nightly(RunEvent... events) {
        RunRecord run = record(CauseKind.SCHEDULE, "nightly", "", "");
        Instant now = PLANNED;
        for (RunEvent event : events) {
            run.take(RunLife.on(run.status(), event, POLICY, now).orElseThrow().next());
            now = now.plusSeconds(12);
        }
        return run.value();
    }

    private static final RunEvent BEGUN = new RunEvent.Admitted(PLANNED, "settlement");

    @ParameterizedTest(name = "that {0}: {2}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "succeeded | exit code 0                        | ran as settlement and succeeded after 12 s.",
                "warned    | some rows were left out            | ran as settlement and ended with warnings after 12 s: some rows were left out.",
                "failed    | exit code 1: the login was refused | ran as settlement and failed after 12 s: exit code 1: the login was refused.",
                "timed-out | stopped at its time limit of 10 s  | ran as settlement and was stopped at its time limit of 10 s.",
                "cancelled | cancelled by mara.holt             | ran as settlement and was cancelled by mara.holt after 12 s."
            })
    void tellsHowARunEnded(String state, String message, String end) {
        Run run = nightly(BEGUN, new RunEvent.Done(new Ending(RunState.of(state).orElseThrow(), message)));
        assertThat(RunSentence.of(run)).isEqualTo(NIGHTLY + end);
    }

    @Test
    @DisplayName("tells what a run waits for, that it goes on, and that it was asked to stop")
    void tellsHowItStands() {
        assertThat(RunSentence.of(nightly())).isEqualTo(NIGHTLY + "waits for its turn.");
        assertThat(RunSentence.of(nightly(new RunEvent.HeldBack("a free place: 2 of 2 commands are running"))))
                .endsWith("waits for a free place: 2 of 2 commands are running.");
        assertThat(RunSentence.of(nightly(BEGUN))).endsWith("is running as settlement.");
        assertThat(RunSentence.of(nightly(BEGUN, new RunEvent.CancelAsked("mara.holt"))))
                .endsWith("is running as settlement and was asked to stop.");
    }

    @Test
    @DisplayName("tells of one that never began why it did not")
    void tellsWhyItDidNotBegin() {
        RunRecord missed = record(CauseKind.SCHEDULE, "nightly", "", "");
        missed.take(new RunStatus.Ended(new Ending(RunState.MISSED, "the service was down"), PLANNED));
        assertThat(RunSentence.of(missed.value())).isEqualTo(NIGHTLY + "was missed: the service was down.");
        assertThat(RunSentence.of(nightly(new RunEvent.CancelAsked("ivo.brandt"))))
                .endsWith("was cancelled by ivo.brandt before it started.");
        assertThat(RunSentence.of(nightly(new RunEvent.Refused("there is no folder /srv"))))
                .endsWith("failed: not started: there is no folder /srv.");
    }

    @Test
    @DisplayName("tells who or what started it")
    void tellsWhatStartedIt() {
        assertThat(RunSentence.of(run(CauseKind.PERSON, "mara.holt", "mara.holt", "")))
                .contains("started by hand, by mara.holt at 02:30");
        assertThat(RunSentence.of(run(CauseKind.CHAIN, "1040", "", "sound")))
                .contains("started as step sound of run 1040 for");
        assertThat(RunSentence.of(run(CauseKind.REPEAT, "1001", "mara.holt", "")))
                .contains("started by mara.holt, to repeat run 1001 for");
    }

    @Test
    @DisplayName("belongs to a run that ends no earlier than it began, and whose message has a limit")
    void belongsToASoundRun() {
        RunRecord run = record(CauseKind.SCHEDULE, "nightly", "", "");
        run.take(RunLife.on(run.status(), BEGUN, POLICY, PLANNED).orElseThrow().next());
        RunEvent done = new RunEvent.Done(new Ending(RunState.FAILED, "x".repeat(5_000)));
        run.take(RunLife.on(run.status(), done, POLICY, PLANNED.minusSeconds(3))
                .orElseThrow()
                .next());
        assertThat(run.value().finishedAt()).contains(PLANNED);
        assertThat(run.value().took().orElseThrow()).isZero();
        assertThat(run.value().message()).hasSize(2_000).endsWith("...");
    }
}
