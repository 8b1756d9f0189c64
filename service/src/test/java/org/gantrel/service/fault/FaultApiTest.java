package org.gantrel.service.fault;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.gantrel.core.access.Role;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.fault.FaultApi.FaultPage;
import org.gantrel.service.fault.FaultApi.FaultView;
import org.gantrel.service.fault.FaultApi.NoteBody;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("A fault")
class FaultApiTest {

    private static final Caller OLGA = new Caller("olga", "Olga", false, Map.of("revenue", Role.OPERATOR));
    private static final Caller ODIN = new Caller("odin", "Odin", false, Map.of("revenue", Role.OPERATOR));
    private static final Caller VIEWER = new Caller("vera", "Vera", false, Map.of("revenue", Role.VIEWER));
    private static final Caller STRANGER = new Caller("sven", "Sven", false, Map.of("fleet", Role.MANAGER));

    @TempDir
    static Path folder;

    private static LiveService service;
    private static FaultApi api;

    @BeforeAll
    static void open() {
        service = LiveService.fresh(folder);
        api = service.bean(FaultApi.class);
    }

    @AfterAll
    static void close() {
        service.close();
    }

    private static FaultView only(String job, boolean open) {
        return api.list(OLGA, open, job, 50, Long.MAX_VALUE).getBody().stream()
                .findFirst()
                .orElse(null);
    }

    private static Run run(String job) {
        return service.ended(service.start(job));
    }

    @Test
    @DisplayName("goes on from the first bad end to the good one, counts, is seen to by one, and keeps its notes")
    void livesItsLife() throws Exception {
        service.task("sells", "test -e '" + folder + "/sells' || exit 3", "notify: { failed: [ ops@example.org ] }\n");
        Run first = run("sells");
        Await.until("it is there", () -> only("sells", true) != null);
        run("sells");
        Await.until("both are counted", () -> only("sells", true).badEnds() == 2);
        long id = only("sells", true).id();
        assertThat(only("sells", true).openedRun()).isEqualTo(first.number());
        assertThat(api.seeTo(OLGA, id).fault().seenBy()).isEqualTo("olga");
        assertThatThrownBy(() -> api.seeTo(ODIN, id)).hasMessageContaining("olga sees to it already");
        assertThatThrownBy(() -> api.seeTo(VIEWER, id)).hasMessageContaining("takes the role operator");
        assertThatThrownBy(() -> api.show(STRANGER, id)).hasMessageContaining("there is no fault");
        assertThatThrownBy(() -> api.note(OLGA, id, new NoteBody("  "))).hasMessageContaining("1 to 1000");
        api.note(ODIN, id, new NoteBody("the bank repairs its line"));
        FaultPage page = api.leave(OLGA, id);
        assertThat(page.fault().seenBy()).isNull();
        assertThat(page.notes())
                .extracting(note -> note.person() + " " + note.text())
                .containsExactly(
                        "olga sees to it", "odin the bank repairs its line", "olga does not see to it any more");
        assertThat(page.told()).extracting(FaultMessage::to).containsExactly("ops@example.org");
        assertThat(api.show(VIEWER, id).told()).isEmpty();
        assertThat(page.runs()).hasSize(2);
        Files.writeString(folder.resolve("sells"), "");
        Journal journal = service.bean(Journal.class);
        long before = journal.complete();
        Run good = run("sells");
        Await.until("it is over", () -> only("sells", true) == null);
        // pages that have asked again at the run's end do so once more
        assertThat(journal.after(before, 100))
                .extracting(Event::type)
                .containsSubsequence("gantrel.run.ended", "gantrel.job.recovered", "gantrel.fault.changed");
        assertThat(only("sells", false).closedRun()).isEqualTo(good.number());
        assertThatThrownBy(() -> api.seeTo(OLGA, id)).hasMessageContaining("works again");
        Files.delete(folder.resolve("sells"));
        run("sells");
        Await.until(
                "it is another one",
                () -> only("sells", true) != null && only("sells", true).id() != id);
    }

    @Test
    @DisplayName("is over when its job is out of use, and what two write at once does not undo each other")
    void isOver() {
        service.task("gone", "exit 3", "");
        run("gone");
        Await.until("it is there", () -> only("gone", true) != null);
        long id = only("gone", true).id();
        TransactionTemplate transaction = service.bean(TransactionTemplate.class);
        FaultLedger ledger = service.bean(FaultLedger.class);
        // one who counts has read it before another sees to it
        transaction.executeWithoutResult(status -> {
            FaultRecord read = ledger.find(id).orElseThrow();
            CompletableFuture.runAsync(() -> ledger.seeTo(id, "olga", true)).join();
            read.takeIn(service.bean(Runs.class).find(read.lastRun()).orElseThrow(), read.lastAt());
        });
        assertThat(only("gone", true).badEnds()).isEqualTo(2);
        assertThat(only("gone", true).seenBy()).isEqualTo("olga");
        Jobs jobs = service.bean(Jobs.class);
        jobs.retire(LiveService.SERVICE, jobs.named("gone").orElseThrow());
        Await.until("it is over", () -> only("gone", true) == null);
    }

    @Test
    @DisplayName("is one of the sweep, and of the chain, not of its rows and steps")
    void isOneOfTheWhole() {
        service.task("row", "exit 3", "parameters: { n: { type: number } }\n");
        service.define("roster: ten\nteam: revenue\ncolumns: [ n ]\nrows: [ { n: 1 }, { n: 2 }, { n: 3 } ]\n---\n"
                + "chain: night\nteam: revenue\nsteps: [ { step: a, job: row, with: { n: \"1\" } } ]\n");
        service.ended(service.startOver("row", "ten"));
        Await.until("the sweep's is there", () -> only("row", true) != null);
        run("night");
        Await.until("the chain's is there", () -> only("night", true) != null);
        assertThat(only("row", true).badEnds()).isLessThanOrEqualTo(2);
        assertThat(api.list(OLGA, true, "", 50, Long.MAX_VALUE).getBody())
                .extracting(FaultView::job)
                .contains("row", "night");
    }
}
