package org.gantrel.service.telling;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.gantrel.core.access.Role;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.LiveService;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.imports.Imports.DefinitionFile;
import org.gantrel.service.imports.Imports.ImportBody;
import org.gantrel.service.imports.Imports.Imported;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.gantrel.service.telling.TellingApi.TellingBody;
import org.gantrel.service.telling.TellingApi.TellingView;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("Rules, duty lists and channels")
class TellingsTest {

    private static final Caller EDITOR = new Caller("edda", "Edda", false, Map.of("revenue", Role.EDITOR));
    private static final Caller VIEWER = new Caller("vera", "Vera", false, Map.of("revenue", Role.VIEWER));
    private static final Caller STRANGER = new Caller("sven", "Sven", false, Map.of("fleet", Role.MANAGER));
    private static final String RULE = "notification: desk\nteam: revenue\nto: [ ops@example.org ]\n";

    @TempDir
    static Path folder;

    private static LiveService service;
    private static TellingApi api;

    @BeforeAll
    static void open() {
        service = LiveService.fresh(folder);
        Teams teams = service.bean(Teams.class);
        teams.create(LiveService.SERVICE, "fleet", "");
        teams.createPerson(LiveService.SERVICE, "mara.holt", "Mara", "quiet-harbour-42", false);
        teams.setRole(LiveService.SERVICE, "fleet", "mara.holt", Role.VIEWER);
        api = service.bean(TellingApi.class);
    }

    @AfterAll
    static void close() {
        service.close();
    }

    private static List<String> problems(Caller caller, String text) {
        try {
            api.create(caller, new TellingBody(text));
        } catch (InvalidException e) {
            return e.problems().stream().map(problem -> problem.message()).toList();
        }
        return List.of();
    }

    @Test
    @DisplayName("are made, changed from what was read, put back, and retired when nothing needs them")
    void liveTheirLives() {
        TellingView made = api.create(EDITOR, new TellingBody(RULE)).getBody();
        assertThat(made.words()).startsWith("tells ops@example.org by mail when a job of revenue");
        assertThatThrownBy(() -> api.create(EDITOR, new TellingBody(RULE))).hasMessageContaining("already");
        String changed = RULE + "remind: 2 h\n";
        assertThatThrownBy(() -> api.change(EDITOR, "notification", "desk", null, new TellingBody(changed)))
                .hasMessageContaining("If-Match");
        assertThat(api.change(EDITOR, "notification", "desk", "\"r1\"", new TellingBody(changed))
                        .getHeaders()
                        .getETag())
                .isEqualTo("\"r2\"");
        assertThatThrownBy(() -> api.change(EDITOR, "notification", "desk", "\"r1\"", new TellingBody(RULE)))
                .hasMessageContaining("changed meanwhile by edda");
        assertThatThrownBy(() ->
                        api.change(EDITOR, "notification", "desk", "*", new TellingBody(RULE.replace("desk", "other"))))
                .hasMessageContaining("keeps its kind and name");
        assertThat(api.revisions(VIEWER, "notification", "desk")).hasSize(2);
        service.define("duty: week\nteam: revenue\nzone: UTC\nfrom: 2026-11-23\nturns: [ mara.holt ]\n---\n"
                + "notification: of-week\nteam: revenue\nto: [ { duty: week } ]\n");
        assertThatThrownBy(() -> api.retire(EDITOR, "duty", "week")).hasMessageContaining("is needed by of-week");
        api.retire(EDITOR, "notification", "of-week");
        api.retire(EDITOR, "duty", "week");
        assertThat(api.list(EDITOR, "duty")).extracting(TellingView::name).doesNotContain("week");
    }

    @Test
    @DisplayName("are for the people of their team: others do not learn that they are there")
    void areForTheirTeam() {
        service.define("notification: ours\nteam: revenue\nto: [ ops@example.org ]\n");
        assertThat(api.list(STRANGER, "")).isEmpty();
        assertThatThrownBy(() -> api.show(STRANGER, "notification", "ours")).hasMessageContaining("there is no");
        assertThatThrownBy(() -> api.retire(VIEWER, "notification", "ours")).isInstanceOf(Refusal.class);
        assertThatThrownBy(() -> api.create(VIEWER, new TellingBody(RULE))).isInstanceOf(Refusal.class);
        assertThat(problems(STRANGER, RULE.replace("desk", "mine")))
                .anySatisfy(text -> assertThat(text).contains("there is no team 'revenue'"));
        // a name that is taken by others, and jobs of a team that one may not see
        assertThat(problems(
                        STRANGER,
                        "notification: ours\nteam: fleet\nfor: { teams: [ revenue ] }\nto: [ ops@example.org ]\n"))
                .anySatisfy(text -> assertThat(text).contains("is taken by one you may not change"))
                .anySatisfy(text -> assertThat(text).contains("you may not see the runs of the team revenue"));
        assertThat(problems(EDITOR, "channel: c\nteam: revenue\ncall: https://desk.example.org\nsigned-with: none\n"))
                .anySatisfy(text -> assertThat(text).contains("there is no credential 'none'"));
        assertThatThrownBy(() -> api.list(EDITOR, "dutty")).hasMessageContaining("did you mean 'duty'");
    }

    @Test
    @DisplayName("come from files with all else, name each other, and edits are not undone unawares")
    void comeFromFiles() {
        Imports imports = service.bean(Imports.class);
        String text = "notification: from-file\nteam: revenue\nto: [ { duty: turns } ]\nby: board\n---\n"
                + "duty: turns\nteam: revenue\nzone: UTC\nfrom: 2026-11-23\nturns: [ mara.holt ]\n---\n"
                + "channel: board\nteam: revenue\ncall: https://board.example.org/show\n---\n"
                + "notification: nobody-there\nteam: revenue\nto: [ { team: revenue, role: manager } ]\n";
        var body = new ImportBody(List.of(new DefinitionFile("telling.yaml", text)));
        assertThat(imports.bringIn(EDITOR, true, body))
                .extracting(Imported::action)
                .containsOnly("create");
        List<Imported> done = imports.bringIn(EDITOR, false, body);
        assertThat(done).extracting(Imported::kind).containsExactly("notification", "duty", "channel", "notification");
        assertThat(done.get(3).warnings())
                .anySatisfy(warning -> assertThat(warning).contains("nobody there would hear"));
        assertThat(imports.bringIn(EDITOR, false, body))
                .extracting(Imported::action)
                .containsOnly("leave");
        api.change(
                EDITOR,
                "duty",
                "turns",
                "*",
                new TellingBody(
                        "duty: turns\nteam: revenue\nzone: Europe/Oslo\nfrom: 2026-11-23\nturns: [ mara.holt ]\n"));
        assertThatThrownBy(() -> imports.bringIn(EDITOR, false, body)).hasMessageContaining("was edited by edda");
        assertThat(imports.bringIn(EDITOR, false, true, body))
                .extracting(Imported::action)
                .contains("change");
        assertThat(api.show(EDITOR, "duty", "turns").getBody().onDuty()).isEqualTo("mara.holt");
    }
}
