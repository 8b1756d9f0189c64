package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.access.Deed;
import org.gantrel.core.access.Role;
import org.gantrel.core.schedule.CatchUp;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.schedule.Reckoning;
import org.gantrel.core.schedule.Reckoning.Fate;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;
import org.gantrel.core.today.DaySentence;
import org.gantrel.core.when.When;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The rules for runs")
class RunRulesTest {

    private static final Instant NOON = Instant.parse("2026-11-23T12:00:00Z");

    @ParameterizedTest(name = "exit code {0} is {1}: {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "0   | succeeded | exit code 0",
                "3   | warned    | exit code 3, which this job counts as a warning",
                "1   | failed    | exit code 1",
                "137 | failed    | exit code 137 (ended by signal 9): somebody killed it, or the host did, where memory ran out"
            })
    void tellWhatAnExitCodeMeans(int code, String state, String message) {
        Ending ending = new ExitRule(Set.of(0), Set.of(3)).ending(code);
        assertThat(ending.state().word()).isEqualTo(state);
        assertThat(ending.message()).isEqualTo(message);
    }

    @ParameterizedTest(name = "usually {0} min after {1} good runs, {2} min said: long from {3} min on")
    @CsvSource({"10, 3, , 30", "1, 3, , 6", "10, 2, , ", ", 9, , ", "10, 9, 12, 12", ", 0, 12, 12"})
    void sayFromWhenOnARunIsLong(Long usual, int known, Long said, Long from) {
        Optional<Duration> longAfter = Optional.ofNullable(said).map(Duration::ofMinutes);
        var limits = new Limits(Optional.empty(), Optional.empty(), Optional.empty(), longAfter);
        assertThat(limits.longFrom(Optional.ofNullable(usual).map(Duration::ofMinutes), known))
                .isEqualTo(Optional.ofNullable(from).map(Duration::ofMinutes));
    }

    @Test
    @DisplayName("account for each due occurrence once: started within the grace, missed after it")
    void accountForEachOccurrence() {
        var reckoning = new Reckoning(Duration.ofMinutes(1));
        Plan plan = Plan.of(When.parse("every 10 minutes"), ZoneId.of("UTC"));
        Reckoning.Result result =
                reckoning.reckon(plan, CatchUp.NONE, NOON.minusSeconds(1200), NOON.plusSeconds(5), Optional.empty());
        assertThat(result.accounts()).extracting(Reckoning.Account::starts).containsExactly(false, false, true);
        assertThat(result.next()).contains(NOON.plusSeconds(600));
        assertThat(reckoning
                        .reckon(plan, CatchUp.NONE, NOON.plusSeconds(600), NOON.plusSeconds(599), Optional.empty())
                        .accounts())
                .isEmpty();
    }

    @Test
    @DisplayName("start the latest or each of those that nobody was there to start, where the schedule wants that")
    void catchUp() {
        Plan plan = Plan.of(When.parse("every 10 minutes"), ZoneId.of("UTC"));
        var reckoning = new Reckoning(Duration.ofSeconds(10));
        Instant since = NOON.minusSeconds(3600);
        Instant now = NOON.plusSeconds(60);
        var latest = new CatchUp(CatchUp.Policy.LATEST, Duration.ofMinutes(5));
        assertThat(reckoning.reckon(plan, latest, since, now, Optional.empty()).accounts())
                .extracting(Reckoning.Account::starts)
                .containsExactly(false, false, false, false, false, false, true);
        var each = new CatchUp(CatchUp.Policy.EACH, Duration.ofMinutes(25));
        assertThat(reckoning.reckon(plan, each, since, now, Optional.empty()).accounts())
                .extracting(Reckoning.Account::starts)
                .containsExactly(false, false, false, false, true, true, true);
    }

    @Test
    @DisplayName("give no grace to what came due while a schedule was off")
    void giveNoGraceToWhatWasOff() {
        Plan plan = Plan.of(When.parse("every minute"), ZoneId.of("UTC"));
        var reckoning = new Reckoning(Duration.ofMinutes(5));
        Instant since = NOON.minusSeconds(150);
        Optional<Instant> off = Optional.of(NOON.minusSeconds(70));
        assertThat(reckoning.reckon(plan, CatchUp.NONE, since, NOON, off).accounts())
                .extracting(Reckoning.Account::fate)
                .containsExactly(Fate.MISSED, Fate.STARTS, Fate.STARTS);
        var latest = new CatchUp(CatchUp.Policy.EACH, Duration.ofHours(1));
        assertThat(reckoning.reckon(plan, latest, since, NOON, off).accounts())
                .extracting(Reckoning.Account::fate)
                .containsOnly(Fate.STARTS);
    }

    @Test
    @DisplayName("account for a long absence in portions")
    void accountInPortions() {
        Reckoning.Result result = new Reckoning(Duration.ZERO)
                .reckon(
                        Plan.of(When.parse("every minute"), ZoneId.of("UTC")),
                        CatchUp.NONE,
                        NOON.minus(Duration.ofDays(2)),
                        NOON,
                        Optional.empty());
        assertThat(result.accounts()).hasSize(Reckoning.MOST_AT_ONCE);
        assertThat(result.next()).contains(NOON.minus(Duration.ofDays(2)).plusSeconds(500 * 60));
    }

    @Test
    @DisplayName("tell in a sentence how the day goes")
    void tellHowTheDayGoes() {
        assertThat(DaySentence.of(Map.of(RunState.SUCCEEDED, 38L, RunState.WARNED, 1L, RunState.FAILED, 2L), 17))
                .isEqualTo("41 runs so far today: 38 fine, 1 with warnings, 2 failed. 17 more before midnight.");
        assertThat(DaySentence.of(Map.of(RunState.FAILED, 3L), 2, LocalTime.of(19, 45, 30)))
                .isEqualTo("3 runs since yesterday 19:45: 0 fine, 3 failed. 2 more before midnight.");
        assertThat(DaySentence.of(Map.of(), 0))
                .isEqualTo("No runs so far today. Nothing more is planned before midnight.");
        assertThat(DaySentence.of(Map.of(RunState.RUNNING, 1L), 0))
                .startsWith("1 run so far today: 0 fine, 1 running.");
    }

    @Test
    @DisplayName("let a role do what the roles below it may, and no more")
    void letRolesDoTheirDeeds() {
        for (Deed deed : Deed.values()) {
            for (Role role : Role.values()) {
                assertThat(deed.allowedTo(role))
                        .isEqualTo(role.ordinal() >= deed.least().ordinal());
            }
        }
        assertThat(Deed.START_RUNS.allowedTo(Role.VIEWER)).isFalse();
        assertThat(Deed.DEFINE_JOBS.allowedTo(Role.OPERATOR)).isFalse();
        assertThat(Deed.MANAGE_PEOPLE.allowedTo(Role.MANAGER)).isFalse();
    }

    @ParameterizedTest(name = "{0} is {1}")
    @CsvSource({
        "PT0.42S, 0.4 s",
        "PT59S, 59 s",
        "PT3M5S, 3 min 5 s",
        "PT12M30S, 12 min",
        "PT2H10M, 2 h 10 min",
        "PT3H, 3 h"
    })
    void sayDurationsInWords(Duration duration, String words) {
        assertThat(Words.duration(duration)).isEqualTo(words);
    }

    @Test
    @DisplayName("say lists and counts as people do")
    void sayLists() {
        assertThat(Words.list(List.of())).isEmpty();
        assertThat(Words.list(List.of("a"))).isEqualTo("a");
        assertThat(Words.list(List.of("a", "b"))).isEqualTo("a and b");
        assertThat(Words.list(List.of("a", "b", "c"))).isEqualTo("a, b and c");
        assertThat(Words.count(1, "run")).isEqualTo("1 run");
        assertThat(Words.count(0, "run")).isEqualTo("0 runs");
    }

    @Test
    @DisplayName("know which ends are good, which are bad, and which are neither")
    void knowEnds() {
        for (RunState state : RunState.values()) {
            assertThat(state.isGood() && state.isBad()).isFalse();
            assertThat(state.isGood() || state.isBad() || state == RunState.SKIPPED)
                    .isEqualTo(state.isEnded());
            assertThat(RunState.of(state.word())).contains(state);
        }
        assertThat(RunState.of("timed_out")).isEmpty();
    }

    @Test
    @DisplayName("offer the nearest known word, or none where none is near")
    void offerTheNearestWord() {
        List<String> known = List.of("settle-tickets", "check-kiosk");
        assertThat(Nearest.to("setle-tickets", known)).isEqualTo(Optional.of("settle-tickets"));
        assertThat(Nearest.to("archive", known)).isEmpty();
    }
}
