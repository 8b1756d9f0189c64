package org.gantrel.service.chain;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.util.Map;
import org.gantrel.core.run.RunState;
import org.gantrel.service.LiveService;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.run.ChainSight.Intervention;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Wishes;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A chain that broke")
class ChainRepairTest extends WorkingChains {

    @Test
    @DisplayName("goes on in the same run from what failed, and repeats nothing that went well")
    void goesOnFromFailed() throws IOException {
        chain(
                "broken",
                """
                steps:
                  - { step: first, job: good }
                  - { step: second, job: mended, with: { name: "second-${day}" } }
                  - { step: third, job: good }
                  - { step: hold, job: notes, after: second, on: failure, with: { what: "${second.state}" } }
                finally:
                  - { step: tidy, job: good }
                """);
        Run run = service.ended(service.start("broken"));
        assertThat(run.state()).isEqualTo(RunState.WARNED);
        assertThat(states(run))
                .isEqualTo("first=succeeded second=failed third=out-of-reach hold=succeeded tidy=succeeded");
        assertThat(step(run, "third").message()).isEqualTo("second failed");
        long first = step(run, "first").run().number();
        Files.writeString(folder.resolve("second-tuesday"), "");
        assertThatThrownBy(() -> goOn(run, null, Map.of("dya", "tuesday")))
                .isInstanceOf(Refusal.class)
                .hasMessageContaining("did you mean 'day'?");
        Run again = goOn(run, null, Map.of("day", "tuesday"));
        assertThat(again.number()).isEqualTo(run.number());
        assertThat(again.state()).as(again.message()).isEqualTo(RunState.SUCCEEDED);
        assertThat(again.parameters()).containsEntry("day", "tuesday");
        assertThat(states(run))
                .isEqualTo("first=succeeded second=succeeded third=succeeded hold=out-of-reach tidy=succeeded");
        assertThat(step(run, "first").run().number()).isEqualTo(first);
        assertThat(step(run, "second").runs()).hasSize(2);
        assertThat(step(run, "tidy").runs()).hasSize(2);
        assertThat(seen(run).round()).isEqualTo(2);
        assertThat(seen(run).interventions())
                .singleElement()
                .extracting(Intervention::kind, Intervention::person, Intervention::note)
                .containsExactly("went-on", "gantrel", "with other values for day; mended");
        assertThatThrownBy(() -> goOn(run, null, Map.of())).hasMessageContaining("say from which step");
        Run third = goOn(run, "third", Map.of());
        assertThat(third.state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(step(run, "third").runs()).hasSize(2);
        assertThat(step(run, "second").runs()).hasSize(2);
        assertThat(seen(run).round()).isEqualTo(3);
    }

    @Test
    @DisplayName("goes on within a chain that is one of its steps, and with the failed rows of a sweep only")
    void goesOnWithin() throws IOException {
        service.define(
                """
                roster: three-names
                team: revenue
                columns: [ name ]
                rows: [ { name: row-a }, { name: row-b }, { name: row-c } ]
                """);
        chain(
                "inner",
                """
                steps:
                  - { step: one, job: good }
                  - { step: two, job: mended, with: { name: inner-two } }
                """);
        chain(
                "outer",
                """
                steps:
                  - { step: inner, job: inner }
                  - { step: rows, job: mended, over: three-names, after: [] }
                  - { step: after-all, job: good, after: [ inner, rows ] }
                """);
        Files.writeString(folder.resolve("row-a"), "");
        Run run = service.ended(service.start("outer"));
        assertThat(states(run)).isEqualTo("inner=failed rows=failed after-all=out-of-reach");
        Run inner = service.found(step(run, "inner").run().number());
        assertThatThrownBy(() -> goOn(inner, null, Map.of())).hasMessageContaining("is a step of run " + run.number());
        Files.writeString(folder.resolve("inner-two"), "");
        Files.writeString(folder.resolve("row-b"), "");
        Files.writeString(folder.resolve("row-c"), "");
        Run again = goOn(run, null, Map.of());
        assertThat(again.state()).as(again.message()).isEqualTo(RunState.SUCCEEDED);
        assertThat(step(run, "inner").run().number()).isEqualTo(inner.number());
        assertThat(step(inner, "one").runs()).isNull();
        Run rows = service.found(step(run, "rows").run().number());
        assertThat(service.children(rows))
                .extracting(child -> child.parameters().get("name"))
                .containsExactlyInAnyOrder("row-b", "row-c");
    }

    @Test
    @DisplayName("leaves out a step that somebody skips, while it runs and after it has ended")
    void leavesOutASkippedStep() {
        chain(
                "skipping",
                """
                steps:
                  - { step: first, job: bad }
                  - { step: second, job: good }
                """);
        Run run = service.ended(service.start("skipping"));
        assertThat(run.state()).isEqualTo(RunState.FAILED);
        ChainApi api = service.bean(ChainApi.class);
        assertThatThrownBy(() -> api.skip(LiveService.SERVICE, run.number(), "secnd", null))
                .hasMessageContaining("did you mean 'second'?");
        api.skip(LiveService.SERVICE, run.number(), "first", new ChainApi.NoteBody("done by hand"));
        assertThat(service.ended(run).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(states(run)).isEqualTo("first=skipped second=succeeded");
        assertThat(step(run, "first").person()).isEqualTo("gantrel");
        assertThatThrownBy(() -> api.skip(LiveService.SERVICE, run.number(), "second", null))
                .hasMessageContaining("has been done");
        assertThatThrownBy(() -> api.skip(MANAGER, run.number(), "first", null)).hasMessageContaining("takes the role");
        assertThatThrownBy(() -> api.skip(STRANGER, run.number(), "first", null))
                .hasMessageContaining("there is no run");
    }

    @Test
    @DisplayName(
            "begins nothing while somebody holds it, and runs what comes at the very end also when it is cancelled")
    void isHeldAndCancelled() {
        service.task("holds-on", "until test -e " + folder + "/holds-on; do sleep 0.05; done", "");
        chain(
                "long",
                """
                steps:
                  - { step: first, job: holds-on }
                  - { step: second, job: good }
                finally:
                  - { step: tidy, job: good }
                """);
        ChainApi api = service.bean(ChainApi.class);
        Run run = service.start("long");
        awaits(run, "first", "running");
        service.underway(service.children(run).get(0));
        api.hold(LiveService.SERVICE, run.number(), new ChainApi.NoteBody("the bank is down"));
        assertThat(seen(run).held().why()).isEqualTo("the bank is down");
        assertThatThrownBy(() -> api.hold(LiveService.SERVICE, run.number(), null))
                .hasMessageContaining("held already");
        api.letGo(LiveService.SERVICE, run.number());
        assertThat(seen(run).held()).isNull();
        service.bean(Wishes.class).stop(run.number(), "mara", CLOCK.instant());
        Run ended = service.ended(run);
        assertThat(ended.state()).isEqualTo(RunState.CANCELLED);
        assertThat(states(run)).isEqualTo("first=cancelled second=out-of-reach tidy=succeeded");
    }
}
