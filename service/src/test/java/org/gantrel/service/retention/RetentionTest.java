package org.gantrel.service.retention;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.job.Retention;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.OnMovedClock;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Teams;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Retention")
class RetentionTest extends OnMovedClock {

    /** From the present on: when a command ended is measured where it ran, by that host's own clock. */
    RetentionTest() {
        super(Instant.now().truncatedTo(ChronoUnit.SECONDS));
    }

    private Run run(String job) {
        return service.ended(service.start(job));
    }

    private boolean isThere(Run run) {
        return service.bean(Runs.class).find(run.number()).isPresent();
    }

    private Retentions.Going going(String job) {
        return service.bean(Retentions.class).preview(service.bean(Jobs.class).allEver()).stream()
                .filter(each -> each.job().name().equals(job))
                .findFirst()
                .orElse(new Retentions.Going(null, null, null, 0, 0));
    }

    @Test
    @DisplayName(
            "lets old logs go and then old runs, shows before what would go, and keeps the latest and the latest good")
    void letsGo() {
        service.task(
                "a",
                "echo said; exit ${code}",
                "parameters: { code: { type: number, default: 0 } }\n" + "keep: { runs: 10 days, logs: 2 days }\n");
        Run first = run("a");
        Run good = run("a");
        Run bad = service.ended(service.start("a", Map.of("code", "3")));
        Run latest = service.ended(service.start("a", Map.of("code", "4")));
        assertThat(going("a").logs()).isZero();
        clock.moveTo(clock.instant().plus(Duration.ofDays(3)));
        assertThat(going("a").logs()).isEqualTo(4);
        assertThat(going("a").runs()).isZero();
        service.bean(Retentions.class).thin();
        assertThat(service.folder(first).resolve("log")).doesNotExist();
        assertThat(isThere(first)).isTrue();
        clock.moveTo(clock.instant().plus(Duration.ofDays(8)));
        assertThat(going("a").runs()).isEqualTo(2);
        // an end that nobody was told of yet is owed to somebody
        Await.until("what is old is gone", () -> {
            service.bean(Retentions.class).thin();
            return !isThere(first) && !isThere(bad);
        });
        assertThat(List.of(isThere(first), isThere(good), isThere(bad), isThere(latest)))
                .containsExactly(false, true, false, true);
        assertThat(Files.exists(service.folder(first))).isFalse();
        assertThat(going("a").runs()).isZero();
        assertThat(run("a").number()).isGreaterThan(latest.number());
    }

    @Test
    @DisplayName("lets sweeps and chains go with all that they started, and keeps what is still to be told")
    void letsParentsGo() {
        service.task("a", "exit 1", "parameters: { word: { type: text, default: x } }\nkeep: { runs: 1 day }\n");
        service.define(
                "chain: c\nteam: revenue\nkeep: { runs: 1 day }\nparameters: { word: { type: text, default: x } }\n"
                        + "steps: [ { job: a } ]\n");
        service.define("roster: r\nteam: revenue\ncolumns: [ word ]\nrows: [ { word: one }, { word: two } ]\n");
        Run sweep = service.ended(service.startOver("c", "r"));
        List<Run> rows = service.children(sweep);
        List<Run> steps =
                rows.stream().flatMap(row -> service.children(row).stream()).toList();
        assertThat(steps).hasSize(2);
        Run last = run("c");
        service.task("told", "exit 1", "keep: { runs: 1 day }\nnotify: { failed: [ night@example.org ] }\n");
        Run told = run("told");
        run("told");
        Await.until("it is in the outbox", () -> service.bean(Retentions.class).isOwed(told.number()));
        Await.until("all else was read", () -> !service.bean(Retentions.class).isOwed(sweep.number()));
        clock.moveTo(clock.instant().plus(Duration.ofDays(2)));
        service.bean(Retentions.class).thin();
        assertThat(isThere(sweep)).isFalse();
        assertThat(rows).noneMatch(this::isThere);
        assertThat(steps).noneMatch(this::isThere);
        assertThat(isThere(last)).isTrue();
        assertThat(isThere(told)).isTrue();
    }

    @Test
    @DisplayName("keeps events by their type where the installation says so, the nearest rule first")
    void keepsEventsByType() {
        Journal journal = service.bean(Journal.class);
        for (String type : List.of("gantrel.signin.refused", "gantrel.file.arrived", "gantrel.file.gone")) {
            journal.write(type, "revenue", Map.of("name", "kept"));
        }
        journal.write("gantrel.job.changed", "revenue", Map.of("job", "last"));
        Instant later = clock.instant().plus(Duration.ofDays(10));
        journal.thin(
                new Journal.Going("", List.of("gantrel.signin.", "gantrel.file."), later.minus(Duration.ofDays(1))),
                100,
                () -> {});
        assertThat(types(journal)).contains("gantrel.signin.refused", "gantrel.file.arrived", "gantrel.file.gone");
        var arrived = new Journal.Going("gantrel.file.", List.of("gantrel.file.gone"), later.minus(Duration.ofDays(2)));
        // what a reader has not read yet stays
        Await.until("it was read and went", () -> {
            journal.thin(arrived, 100, () -> {});
            return !types(journal).contains("gantrel.file.arrived");
        });
        assertThat(types(journal)).contains("gantrel.signin.refused", "gantrel.file.gone");
    }

    private static List<String> types(Journal journal) {
        return journal.after(0, 1_000).stream().map(Event::type).toList();
    }

    @Test
    @DisplayName("is as the job says, or its team, or the installation")
    void isInherited() {
        service.task("own", "true", "keep: { runs: 5 days }\n");
        service.task("other", "true", "");
        service.bean(Teams.class)
                .keep(
                        LiveService.SERVICE,
                        "revenue",
                        new Retention(Optional.of(Duration.ofDays(30)), Optional.of(Duration.ofDays(7))));
        Retentions retentions = service.bean(Retentions.class);
        Jobs jobs = service.bean(Jobs.class);
        assertThat(retentions.of(jobs.named("own").orElseThrow()))
                .isEqualTo(new Retention(Optional.of(Duration.ofDays(5)), Optional.of(Duration.ofDays(7))));
        assertThat(retentions.of(jobs.named("other").orElseThrow()).runs()).contains(Duration.ofDays(30));
    }
}
