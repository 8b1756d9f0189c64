package org.gantrel.service.trigger;

import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.gantrel.core.access.Role;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.service.LiveService;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.credential.Credentials.Draft;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("A trigger that is saved")
class TriggerSavedTest {

    @TempDir
    static Path folder;

    private static LiveService service;

    @BeforeAll
    static void open() {
        service = LiveService.fresh(folder);
        service.bean(Teams.class).create(LiveService.SERVICE, "fleet", "");
        var draft = new Draft(
                "revenue",
                CredentialKind.HTTP_BEARER,
                "",
                Map.of(),
                Map.of("token", "the-token-of-the-kiosk"),
                null,
                List.of(),
                List.of());
        service.bean(Credentials.class).keep(LiveService.SERVICE, "kiosk", draft);
    }

    @AfterAll
    static void close() {
        service.close();
    }

    private static void listener(String name, String trigger) {
        service.task(name, "true", "triggers:\n  - " + trigger + "\n");
    }

    @Test
    @DisplayName("is refused where it listens to what its keeper may not know, or would start itself for ever")
    void isRefused() {
        service.task("ring-c", "true", "");
        listener("ring-a", "{ name: r, on: run.ended, of: ring-c, ends: [ failed ] }");
        service.task("ring-b", "true", "triggers: [ { name: r, on: run.ended, of: ring-c } ]\n");
        assertThatThrownBy(
                        () -> service.task("ring-c", "true", "triggers: [ { name: r, on: run.ended, of: ring-b } ]\n"))
                .hasMessageContaining("start one another without end: ring-c starts ring-b starts ring-c");
        assertThatThrownBy(() -> listener("spy", "{ name: s, on: call.received, token: nobody }"))
                .hasMessageContaining("nobody");
        assertThatThrownBy(() -> listener("spy", "{ name: s, on: file.arrived, under: /srv, host: kiosk }"))
                .hasMessageContaining("kiosk is of the kind http-bearer; here it is one of ssh");
        // whoever may see the runs of a team may not see its credentials for that
        var both = new Caller("bo", "Bo", false, Map.of("revenue", Role.VIEWER, "fleet", Role.EDITOR));
        for (String on : List.of("calendar.changed", "credential.changed")) {
            String text = "task: spy\nteam: fleet\ndoes: { command: [ x ] }\ntriggers: [ { name: s, on: " + on
                    + ", teams: revenue } ]\n";
            var brought = assertThatCode(() -> service.bean(Imports.class)
                    .bringIn(both, true, new Imports.ImportBody(List.of(new Imports.DefinitionFile("t", text)))));
            if (on.equals("calendar.changed")) {
                brought.doesNotThrowAnyException();
            } else {
                brought.hasMessageContaining("there is no team 'revenue'");
            }
        }
        assertThatThrownBy(() -> service.define("task: spy\nteam: revenue\ndoes: { command: [ x ] }\n"
                        + "expect: { arrivals: { under: /srv, within: 1 h, host: nobody } }\n"))
                .hasMessageContaining("nobody");
        assertThatThrownBy(() -> listener("spy", "{ name: s, on: run.ended, of: x, teams: [ nowhere ] }"))
                .hasMessageContaining("there is no team 'nowhere'");
    }
}
