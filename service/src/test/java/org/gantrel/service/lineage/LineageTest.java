package org.gantrel.service.lineage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.Map;
import java.util.stream.Collectors;
import org.gantrel.core.access.Role;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.lineage.LineageApi.LineagePart;
import org.gantrel.service.run.Run;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("The lineage of a run")
class LineageTest {

    private static final Caller OLGA = new Caller("olga", "Olga", false, Map.of("revenue", Role.OPERATOR));
    private static final Caller VERA = new Caller("vera", "Vera", false, Map.of("fleet", Role.VIEWER));
    private static final Caller ADMIN = new Caller("ada", "Ada", true, Map.of());

    @TempDir
    static Path folder;

    private static LiveService service;
    private static LineageApi api;

    @BeforeAll
    static void open() {
        service = LiveService.fresh(folder);
        service.bean(Teams.class).create(LiveService.SERVICE, "fleet", "");
        api = service.bean(LineageApi.class);
        service.define(
                """
                task: one
                team: revenue
                does: { shell: 'exit 0' }
                ---
                chain: both
                team: revenue
                steps: [ { step: a, job: one }, { step: b, job: one } ]
                ---
                task: then
                team: revenue
                does: { shell: 'exit 3' }
                notify: { failed: [ desk@example.org ] }
                triggers: [ { name: after, on: run.ended, of: both } ]
                ---
                task: far
                team: fleet
                does: { shell: 'exit 0' }
                triggers: [ { name: heard, on: run.ended, of: then } ]
                """);
    }

    @AfterAll
    static void close() {
        service.close();
    }

    private static String words(LineagePart part) {
        String below = part.caused().stream().map(LineageTest::words).collect(Collectors.joining(", "));
        return part.title() + (part.asked() ? "!" : "") + (below.isEmpty() ? "" : " (" + below + ")");
    }

    private static String lineage(Caller caller, long number) {
        return words(api.ofRun(caller, number));
    }

    @Test
    @DisplayName("goes from the first cause to the last message, and says nothing of what a caller may not see")
    void goesBothWays() {
        Run chain = service.ended(service.start("both"));
        Await.until("all has happened", () -> lineage(ADMIN, chain.number()).contains("far"));
        Await.until("it is told", () -> lineage(ADMIN, chain.number()).contains("desk@example.org"));
        assertThat(lineage(ADMIN, chain.number())).isEqualTo("both! (one, one, then (far, desk@example.org))");
        Run step = service.children(chain).get(0);
        assertThat(lineage(OLGA, step.number()))
                .isEqualTo("both (one!, one, then (a run of another team, desk@example.org))");
        LineagePart top = api.ofRun(ADMIN, chain.number());
        long then = top.caused().get(2).id();
        long far = top.caused().get(2).caused().get(0).id();
        assertThat(lineage(VERA, far))
                .isEqualTo("a run of another team (a run of another team, a run of another team,"
                        + " a run of another team (far!))");
        assertThatThrownBy(() -> api.ofRun(VERA, then)).hasMessageContaining("there is no run");
        assertThat(top.caused().get(2).how()).isEqualTo("its trigger after");
    }
}
