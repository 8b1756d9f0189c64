package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.Stream;
import org.gantrel.core.run.Effect.End;
import org.gantrel.core.run.Effect.Launch;
import org.gantrel.core.run.Effect.LookAgain;
import org.gantrel.core.run.Effect.Signal;
import org.gantrel.core.run.Effect.WatchClock;
import org.gantrel.core.run.RunEvent.Admitted;
import org.gantrel.core.run.RunEvent.CancelAsked;
import org.gantrel.core.run.RunEvent.Done;
import org.gantrel.core.run.RunEvent.FoundAgain;
import org.gantrel.core.run.RunEvent.GiveUp;
import org.gantrel.core.run.RunEvent.HeldBack;
import org.gantrel.core.run.RunEvent.LimitReached;
import org.gantrel.core.run.RunEvent.NotWanted;
import org.gantrel.core.run.RunEvent.PatienceEnded;
import org.gantrel.core.run.RunEvent.Refused;
import org.gantrel.core.run.RunEvent.TryNow;
import org.gantrel.core.run.RunEvent.WindowOver;
import org.gantrel.core.run.RunLife.Move;
import org.gantrel.core.run.RunStatus.Ended;
import org.gantrel.core.run.RunStatus.Waiting;
import org.gantrel.core.text.SafePattern;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The life of a run")
class RunLifeTest {

    private static final Instant NOON = Instant.parse("2026-11-26T12:00:00Z");
    private static final RunPolicy POLICY = RunPolicy.task(Optional.of(Duration.ofMinutes(5)));

    private static RunEvent event(String word) {
        return switch (word) {
            case "admitted" -> new Admitted(NOON, "night");
            case "held" -> new HeldBack("a free place");
            case "cancel" -> new CancelAsked("mara");
            case "limit" -> new LimitReached();
            case "window" -> new WindowOver();
            case "patience" -> new PatienceEnded();
            case "refused" -> new Refused("no such program");
            case "vanished" -> new Refused("it could not be found again", true);
            case "fine" -> new Done(new Ending(RunState.SUCCEEDED, "exit code 0"));
            case "bad" -> new Done(new Ending(RunState.FAILED, "exit code 1"));
            case "lost" ->
                new Done(new Ending(RunState.FAILED, "gone"), "it may still run there", Optional.empty(), false);
            case "found" -> new FoundAgain();
            case "code3" -> new Done(new Ending(RunState.FAILED, "exit code 3"), "", Optional.of(3), false);
            case "over" -> new Done(new Ending(RunState.SUCCEEDED, "exit code 0"), "", Optional.of(0), true);
            case "spent" -> new Done(new Ending(RunState.FAILED, "exit code 1"), "", Optional.of(1), true);
            case "now" -> new TryNow("mara");
            case "giveup" -> new GiveUp("mara");
            case "late" -> new NotWanted(new Ending(RunState.SKIPPED, "its window ended at 05:30"));
            default -> throw new IllegalArgumentException(word);
        };
    }

    /** All that happens to a run, one event after the other; each goes through a second look as after a restart. */
    private static RunStatus replay(String history) {
        return replay(history, POLICY);
    }

    private static RunStatus replay(String history, RunPolicy policy) {
        RunStatus status = Waiting.FRESH;
        for (String word : history.split(" ")) {
            status = RunLife.on(status, event(word), policy, NOON)
                    .map(Move::next)
                    .orElse(status);
        }
        return status;
    }

    private static RunPolicy retrying(int tries, Optional<Duration> total) {
        var retry = new Retry(
                tries,
                Duration.ofMinutes(2),
                2,
                Duration.ofMinutes(5),
                Set.of(RunState.FAILED, RunState.TIMED_OUT),
                Set.of(),
                List.of());
        return new RunPolicy(
                false, Optional.of(Duration.ofMinutes(5)), total, Optional.empty(), Duration.ofSeconds(30), retry);
    }

    @ParameterizedTest(name = "{0}: {1}, {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "admitted bad admitted fine              | succeeded | exit code 0",
                "admitted bad admitted bad admitted bad  | failed    | exit code 1; try 3 of 3",
                "admitted bad admitted bad giveup        | failed    | exit code 1; given up by mara before try 3",
                "admitted bad now admitted limit bad admitted fine | succeeded | exit code 0",
                "admitted bad cancel                     | cancelled | cancelled by mara before try 2",
                "admitted cancel bad                     | cancelled | cancelled by mara",
                "admitted cancel spent                   | failed    | exit code 1; it was over before it could be told to stop",
                "admitted limit over                     | succeeded | exit code 0; it was over before it could be told to stop",
                "admitted limit spent admitted fine      | succeeded | exit code 0",
                "admitted lost                           | failed    | gone",
                "late                                    | skipped   | its window ended at 05:30",
                "admitted bad late                       | failed    | exit code 1; its window ended at 05:30 before try 2",
                "admitted refused admitted refused admitted refused | failed | not started: no such program; try 3 of 3",
                "admitted refused admitted fine          | succeeded | exit code 0",
                "admitted vanished                       | failed    | not started: it could not be found again",
                "admitted cancel refused                 | cancelled | cancelled by mara"
            })
    void triesAgain(String history, String state, String message) {
        assertThat(replay(history, retrying(3, Optional.empty()))).isInstanceOfSatisfying(Ended.class, ended -> {
            assertThat(ended.state().word()).isEqualTo(state);
            assertThat(ended.ending().message()).isEqualTo(message);
        });
    }

    @Test
    @DisplayName("waits for a further try no longer than it was to be, though the clock is put back meanwhile")
    void clockPutBack() {
        Duration minute = Duration.ofMinutes(1);
        var retry = new Retry(4, minute, 3, Duration.ofMinutes(5), Set.of(RunState.FAILED), Set.of(), List.of());
        Instant now = Instant.parse("2026-11-26T06:00:00Z");
        assertThat(retry.isToCome(2, now, now)).isFalse();
        assertThat(retry.isToCome(2, now.plus(minute), now)).isTrue();
        assertThat(retry.isToCome(2, now.plusSeconds(71), now)).isFalse();
        assertThat(retry.isToCome(3, now.plusSeconds(180), now)).isTrue();
        assertThat(retry.isToCome(4, now.plusSeconds(300), now)).isTrue();
        assertThat(retry.isToCome(4, now.plusSeconds(3_900), now)).isFalse();
    }

    @Test
    @DisplayName("waits longer before each try, no longer than is said, and not beyond the limit over all tries")
    void waitsLonger() {
        RunPolicy policy = retrying(9, Optional.empty());
        for (String each : List.of("0 PT2M", "1 PT4M", "2 PT5M", "3 PT5M")) {
            int before = Integer.parseInt(each.split(" ")[0]);
            RunStatus status = replay("admitted bad " + "admitted bad ".repeat(before), policy);
            assertThat(status).isInstanceOfSatisfying(Waiting.class, waiting -> assertThat(
                            Duration.between(NOON, waiting.again().orElseThrow().at()))
                    .isEqualTo(Duration.parse(each.split(" ")[1])));
        }
        assertThat(replay("admitted bad", retrying(9, Optional.of(Duration.ofMinutes(2)))))
                .isInstanceOf(Ended.class);
        var byCode = new Retry(
                3, Duration.ofMinutes(1), 1, Duration.ofHours(1), Set.of(RunState.FAILED), Set.of(3), List.of());
        var policyByCode = new RunPolicy(
                false, Optional.empty(), Optional.empty(), Optional.empty(), Duration.ofSeconds(1), byCode);
        assertThat(replay("admitted bad", policyByCode)).isInstanceOf(Ended.class);
        assertThat(replay("admitted code3", policyByCode)).isInstanceOf(Waiting.class);
    }

    @Test
    @DisplayName(
            "is tried again after certain messages alone, which are looked for as far as that keeps nobody waiting")
    void isTriedAgainAfterMessages() {
        for (String each : List.of("code 1", "code 2", "(a)\\1", "([a-z]{0,1000}){2}code", "")) {
            List<SafePattern> messages =
                    each.isEmpty() ? List.of() : List.of(SafePattern.kept(each), SafePattern.kept("no such thing"));
            var retry = new Retry(
                    3, Duration.ofMinutes(1), 1, Duration.ofHours(1), Set.of(RunState.FAILED), Set.of(), messages);
            var ending = new Ending(RunState.FAILED, "exit code 1");
            assertThat(retry.next(1, ending, Optional.empty()).isPresent())
                    .as(each)
                    .isEqualTo(each.equals("code 1") || each.isEmpty());
        }
    }

    @Test
    @DisplayName("is stopped at the limit that comes first, and says which")
    void saysWhichLimit() {
        var policy = new RunPolicy(
                false,
                Optional.of(Duration.ofMinutes(5)),
                Optional.of(Duration.ofMinutes(8)),
                Optional.of(NOON.plusSeconds(240)),
                Duration.ofSeconds(30),
                Retry.NEVER);
        Move begun = RunLife.on(Waiting.FRESH, event("admitted"), policy, NOON).orElseThrow();
        assertThat(begun.effects())
                .contains(new LookAgain(Duration.ofMinutes(5)), new WatchClock(NOON.plusSeconds(240)));
        Map.of(
                        "admitted limit bad", "stopped at its time limit of 5 min",
                        "admitted window bad", "stopped at the end of its window",
                        "admitted limit window bad", "stopped at its time limit of 5 min",
                        "admitted window found limit patience bad", "stopped at the end of its window")
                .forEach((history, message) -> assertThat(replay(history, policy))
                        .as(history)
                        .isInstanceOfSatisfying(
                                Ended.class,
                                ended -> assertThat(ended.ending().message()).isEqualTo(message)));
    }

    @ParameterizedTest(name = "{0}: {1}, {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "admitted fine                        | succeeded | exit code 0",
                "held held admitted bad               | failed    | exit code 1",
                "held cancel                          | cancelled | cancelled by mara before it started",
                "refused                              | failed    | not started: no such program",
                "admitted refused                     | failed    | not started: no such program",
                "admitted cancel refused              | cancelled | cancelled by mara",
                "admitted cancel fine                 | cancelled | cancelled by mara",
                "admitted limit bad                   | timed-out | stopped at its time limit of 5 min",
                "admitted limit cancel patience fine  | timed-out | stopped at its time limit of 5 min",
                "admitted cancel limit found fine     | cancelled | cancelled by mara",
                "admitted cancel lost                 | cancelled | cancelled by mara; it may still run there",
                "admitted cancel over                 | succeeded | exit code 0; it was over before it could be told to stop",
                "admitted limit patience spent        | failed    | exit code 1; it was over before it could be told to stop",
                "admitted over                        | succeeded | exit code 0",
                "admitted fine cancel bad refused     | succeeded | exit code 0",
                "cancel admitted fine                 | cancelled | cancelled by mara before it started"
            })
    void endsAsItsHistorySays(String history, String state, String message) {
        assertThat(replay(history)).isInstanceOfSatisfying(Ended.class, ended -> {
            assertThat(ended.state().word()).isEqualTo(state);
            assertThat(ended.ending().message()).isEqualTo(message);
        });
    }

    @Test
    @DisplayName("asks to stop once, and ends what does not after its patience")
    void asksThenEnds() {
        RunStatus going = replay("admitted");
        Move asked = RunLife.on(going, event("cancel"), POLICY, NOON).orElseThrow();
        assertThat(asked.effects()).contains(new Signal(Signal.Force.ASK), new LookAgain(RunPolicy.USUAL_PATIENCE));
        assertThat(RunLife.on(asked.next(), event("cancel"), POLICY, NOON)).isEmpty();
        assertThat(RunLife.on(asked.next(), event("patience"), POLICY, NOON)
                        .orElseThrow()
                        .effects())
                .contains(
                        new Signal(Signal.Force.END),
                        new Effect.NoteOnce(NOON, "did not stop within 10 s; ended by force"));
        assertThat(RunLife.on(going, event("patience"), POLICY, NOON)).isEmpty();
    }

    @Test
    @DisplayName("lets a parent stop what it has started, and end as its children did")
    void stopsChildren() {
        RunStatus going = RunLife.on(Waiting.FRESH, event("admitted"), RunPolicy.PARENT, NOON)
                .orElseThrow()
                .next();
        Move asked = RunLife.on(going, event("cancel"), RunPolicy.PARENT, NOON).orElseThrow();
        assertThat(asked.effects()).contains(new Effect.StopChildren("mara"));
        var ending = new Ending(RunState.CANCELLED, "cancelled by mara after 3 rows");
        assertThat(RunLife.on(asked.next(), new Done(ending), RunPolicy.PARENT, NOON)
                        .orElseThrow()
                        .next())
                .isEqualTo(new Ended(ending, NOON));
    }

    @Test
    @DisplayName("is never shorter than nothing, though the clock went back")
    void isNeverShorterThanNothing() {
        RunStatus going = replay("admitted");
        assertThat(RunLife.on(going, event("fine"), POLICY, NOON.minusSeconds(3600))
                        .orElseThrow()
                        .next())
                .isInstanceOfSatisfying(
                        Ended.class, ended -> assertThat(ended.at()).isEqualTo(NOON));
    }

    @RepeatedTest(20)
    @DisplayName("ends once whatever happens, begins once, and an end is never undone")
    void endsOnce(RepetitionInfo repetition) {
        var random = new Random(repetition.getCurrentRepetition());
        List<String> words =
                List.of("admitted", "held", "cancel", "limit", "patience", "refused", "fine", "bad", "lost", "found");
        for (int round = 0; round < 500; round++) {
            RunStatus status = Waiting.FRESH;
            var effects = new ArrayList<Effect>();
            Instant now = NOON;
            for (int i = 0; i < 30; i++) {
                now = now.plusSeconds(random.nextInt(-100, 200));
                RunEvent event = i == 29 ? event("refused") : event(words.get(random.nextInt(words.size())));
                Optional<Move> move = RunLife.on(status, event, POLICY, now);
                if (status instanceof Ended) {
                    assertThat(move).isEmpty();
                }
                // a kill between the move and its writing loses both; after the writing it has happened
                if (move.isPresent() && random.nextInt(4) > 0) {
                    assertThat(move.get().next().state() == RunState.WAITING)
                            .isEqualTo(move.get().next() instanceof Waiting);
                    status = move.get().next();
                    effects.addAll(move.get().effects());
                }
            }
            status = RunLife.on(status, event("refused"), POLICY, now)
                    .map(Move::next)
                    .orElse(status);
            assertThat(status).isInstanceOf(Ended.class);
            assertThat(count(effects, End.class)).isLessThanOrEqualTo(1);
            assertThat(count(effects, Launch.class)).isLessThanOrEqualTo(1);
        }
    }

    private static long count(List<Effect> effects, Class<?> kind) {
        return Stream.of(effects.toArray()).filter(kind::isInstance).count();
    }
}
