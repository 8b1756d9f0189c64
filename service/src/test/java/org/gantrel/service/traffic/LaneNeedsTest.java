package org.gantrel.service.traffic;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.gantrel.core.lane.Fullness;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.lane.LaneUse.Needing;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Wishes;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("A lane")
class LaneNeedsTest {

    @TempDir
    private Path folder;

    private LiveService service;

    @BeforeEach
    void open() {
        service = LiveService.fresh(folder.resolve("data"), Clock.systemUTC());
        lane(2, "");
    }

    @AfterEach
    void close() {
        service.close();
    }

    private void lane(int width, String more) {
        service.define("lane: quay\nteam: revenue\nwidth: " + width + "\n" + more);
    }

    /** A task that goes until there is a file of its name. */
    private void waiting(String name, String rules) {
        service.task(name, "until test -e " + folder.resolve(name) + "; do sleep 0.05; done", rules);
    }

    private void letGo(String name) throws IOException {
        Files.writeString(folder.resolve(name), "");
    }

    private LaneApi.LanePage page() {
        return service.bean(TransactionTemplate.class).execute(status -> service.bean(LaneApi.class)
                .show(LiveService.SERVICE, "quay", 1)
                .getBody());
    }

    private void retire(String what) {
        if (what.equals("quay")) {
            service.bean(LaneApi.class).retire(LiveService.SERVICE, what);
        } else {
            service.bean(TransactionTemplate.class).executeWithoutResult(status -> service.bean(Jobs.class)
                    .retire(
                            LiveService.SERVICE,
                            service.bean(Jobs.class).named(what).orElseThrow()));
        }
    }

    private int most() {
        return page().hours().stream().mapToInt(LaneApi.Hour::most).max().orElseThrow();
    }

    @Test
    @DisplayName("is needed by the steps of chains that take places of their own, and told so wherever that matters")
    void neededBySteps() throws IOException {
        waiting("small", "");
        service.define("chain: owner\nteam: revenue\nsteps:\n  - { step: one, job: small, lanes: { quay: 2 } }\n");
        assertThat(page().jobs())
                .extracting(Needing::job, Needing::step, Needing::places)
                .containsExactly(tuple("owner", "one", 2));
        assertThatThrownBy(() -> lane(1, ""))
                .hasMessageContaining("step one of owner of the team revenue takes 2 places");
        assertThatThrownBy(() -> retire("quay")).hasMessageContaining("needed by step one of owner");
        Run chain = service.start("owner");
        Await.until("its step goes", () -> service.children(chain).stream()
                .anyMatch(step -> step.state() == RunState.RUNNING));
        assertThat(most()).isEqualTo(2);
        letGo("small");
        service.ended(chain);
        service.ended(service.start("small"));
        assertThat(most()).as("the job alone takes none").isEqualTo(2);
    }

    @Test
    @DisplayName("stays until the last run has ended that keeps to a revision of its job which needs it")
    void neededByRuns() throws IOException {
        waiting("load", "lanes: { quay: 2 }\nwhile-running: 2\n");
        Run first = service.underway(service.start("load"));
        Run second = service.start("load");
        service.waits(second, "2 places in lane quay");
        service.task("load", "true", "");
        assertThatThrownBy(() -> retire("quay"))
                .hasMessageContaining("2 runs that have not ended still need the lane quay: %d of load, %d of load"
                        .formatted(first.number(), second.number()));
        service.bean(Wishes.class)
                .stop(second.number(), "mara", Clock.systemUTC().instant());
        service.ended(second);
        letGo("load");
        service.ended(first);
        assertThat(most()).as("by the revision that the run had").isEqualTo(2);
        service.define("task: load\nteam: revenue\nlanes: [ quay ]\ndoes: { command: [ \"true\" ] }\n");
        service.ended(service.start("load"));
        assertThat(most()).isEqualTo(2);
        retire("load");
        assertThat(most()).as("of a job that is retired too").isEqualTo(2);
        retire("quay");
    }

    @Test
    @DisplayName("was as wide at each time as somebody had made it then")
    void knowsItsWidths() {
        Lanes lanes = service.bean(Lanes.class);
        Instant before = Clock.systemUTC().instant().minus(Duration.ofHours(2));
        for (int width : List.of(3, 3, 1)) {
            service.bean(TransactionTemplate.class)
                    .executeWithoutResult(status -> lanes.widen(LiveService.SERVICE, "quay", width));
        }
        lane(5, "about: wider by its definition\n");
        Instant after = Clock.systemUTC().instant().plusSeconds(1);
        List<Fullness.Span> all = lanes.widths(lanes.all().get("quay").id(), before, after);
        assertThat(all).extracting(Fullness.Span::places).containsExactly(2, 3, 1, 5);
        assertThat(all).first().matches(span -> span.from().equals(before));
        assertThat(all).last().matches(span -> span.until().equals(after));
        assertThat(page().hours().stream().map(LaneApi.Hour::width).toList())
                .contains(2, 5)
                .isSubsetOf(2, 3, 5);
        assertThat(lanes.widths(lanes.all().get("quay").id(), after, after.plusSeconds(9)))
                .containsExactly(new Fullness.Span(after, after.plusSeconds(9), 5));
    }

    @Test
    @DisplayName("and a job that needs no longer what it takes away may change together")
    void changesTogether() {
        service.task("load", "true", "lanes: { quay: 2 }\n");
        assertThatThrownBy(() -> lane(1, "")).hasMessageContaining("load of the team revenue takes 2 places");
        service.define("lane: quay\nteam: revenue\nwidth: 1\n---\ntask: load\nteam: revenue\nlanes: [ quay ]\n"
                + "does: { command: [ \"true\" ] }\n");
        assertThat(page().jobs()).singleElement().matches(job -> job.places() == 1);
    }
}
