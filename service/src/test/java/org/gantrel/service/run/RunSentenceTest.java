package org.gantrel.service.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.time.Instant;
import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.service.job.JobRecord;
import org.gantrel.service.run.RunRecord.Stopping;
import org.gantrel.service.team.Team;
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

    private final JobRecord job = job();

    private static JobRecord job() {
        JobRecord job = mock(JobRecord.class);
        Team team = mock(Team.class);
        when(job.name()).thenReturn("settle-tickets");
        when(job.kind()).thenReturn("task");
        when(job.team()).thenReturn(team);
        return job;
    }

    private RunRecord run(CauseKind cause, String reference, String starter, String step) {
        var from =
                new NewRun(job, Map.of(), cause, reference, starter, NIGHT, Optional.empty(), step, Optional.empty());
        return new RunRecord(1042, from, Map.of("route", "sound"), "", PLANNED);
    }

    private RunRecord nightly() {
        return run(CauseKind.SCHEDULE, "nightly", "", "");
    }

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
        RunRecord run = nightly();
        run.begin("settlement", PLANNED);
        run.end(new Ending(RunState.of(state).orElseThrow(), message), 1, PLANNED.plusSeconds(12));
        assertThat(RunSentence.of(run)).isEqualTo(NIGHTLY + end);
    }

    @Test
    @DisplayName("tells what a run waits for, that it goes on, and that it was asked to stop")
    void tellsHowItStands() {
        RunRecord run = nightly();
        assertThat(RunSentence.of(run)).isEqualTo(NIGHTLY + "waits for its turn.");
        run.waitFor("a free place: 2 of 2 commands are running");
        assertThat(RunSentence.of(run)).endsWith("waits for a free place: 2 of 2 commands are running.");
        run.begin("settlement", PLANNED);
        assertThat(RunSentence.of(run)).endsWith("is running as settlement.");
        run.askToStop(Stopping.CANCEL, "mara.holt");
        assertThat(RunSentence.of(run)).endsWith("is running as settlement and was asked to stop.");
    }

    @Test
    @DisplayName("tells of one that never began why it did not")
    void tellsWhyItDidNotBegin() {
        RunRecord missed = nightly();
        missed.end(new Ending(RunState.MISSED, "the service was down"), null, PLANNED);
        assertThat(RunSentence.of(missed)).isEqualTo(NIGHTLY + "was missed: the service was down.");
        RunRecord cancelled = nightly();
        cancelled.end(new Ending(RunState.CANCELLED, "cancelled by ivo.brandt before it started"), null, PLANNED);
        assertThat(RunSentence.of(cancelled)).endsWith("was cancelled by ivo.brandt before it started.");
        RunRecord failed = nightly();
        failed.end(new Ending(RunState.FAILED, "not started: there is no folder /srv"), null, PLANNED);
        assertThat(RunSentence.of(failed)).endsWith("failed: not started: there is no folder /srv.");
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
        RunRecord run = nightly();
        run.begin("settlement", PLANNED);
        run.end(new Ending(RunState.FAILED, "x".repeat(5_000)), 1, PLANNED.minusSeconds(3));
        assertThat(run.finishedAt()).contains(PLANNED);
        assertThat(run.took().orElseThrow()).isZero();
        assertThat(run.message()).hasSize(2_000).endsWith("...");
    }
}
