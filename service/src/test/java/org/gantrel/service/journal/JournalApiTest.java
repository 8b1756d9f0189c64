package org.gantrel.service.journal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.access.Role;
import org.gantrel.core.event.EventType;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.journal.JournalApi.JournalEvent;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.mock.web.MockHttpServletRequest;
import org.springframework.web.context.request.RequestContextHolder;
import org.springframework.web.context.request.ServletRequestAttributes;

@DisplayName("The journal")
class JournalApiTest {

    private static final MovableClock CLOCK = new MovableClock(Instant.parse("2026-11-23T11:00:00Z"));
    private static final Caller VIEWER = new Caller("vera", "Vera", false, Map.of("revenue", Role.VIEWER));
    private static final Caller EDITOR = new Caller("edda", "Edda", false, Map.of("revenue", Role.EDITOR));
    private static final Caller STRANGER = new Caller("sven", "Sven", false, Map.of("fleet", Role.MANAGER));
    private static final Caller ADMIN = new Caller("ada", "Ada", true, Map.of());

    @TempDir
    static Path folder;

    private static LiveService service;
    private static JournalApi api;
    private static Journal journal;

    @BeforeAll
    static void open() {
        service = LiveService.fresh(folder, CLOCK);
        service.bean(Teams.class).create(LiveService.SERVICE, "fleet", "");
        api = service.bean(JournalApi.class);
        journal = service.bean(Journal.class);
        journal.write("gantrel.file.arrived", "revenue", Map.of("job", "take-in", "path", "/srv/a.csv"));
        journal.write("gantrel.file.gone", "fleet", Map.of("job", "other", "path", "/srv/b.csv"));
        journal.write("gantrel.credential.changed", "revenue", Map.of("name", "key"));
        journal.write("gantrel.signin.refused", "", Map.of("person", "mara.holt"));
    }

    @AfterAll
    static void close() {
        service.close();
    }

    /** Where there is a next page, its link is made from the call's own address. */
    @BeforeEach
    void isCalled() {
        RequestContextHolder.setRequestAttributes(
                new ServletRequestAttributes(new MockHttpServletRequest("GET", "/api/v1/journal")));
    }

    private static List<JournalEvent> list(Caller caller, String type, String job, String team, Long from, int limit) {
        return api.list(caller, type, job, 0, team, null, from, limit, Long.MAX_VALUE)
                .getBody();
    }

    private static Set<String> types(Caller caller) {
        var types = new HashSet<String>();
        list(caller, "", "", "", null, 100).forEach(event -> types.add(event.type()));
        return types;
    }

    @Test
    @DisplayName("shows everybody what they may see, and nothing else")
    void keepsToRights() {
        assertThat(types(ADMIN))
                .contains(
                        "service.started",
                        "file.arrived",
                        "file.gone",
                        "credential.changed",
                        "signin.refused",
                        "person.changed");
        assertThat(types(EDITOR))
                .contains("file.arrived", "credential.changed")
                .doesNotContain("file.gone", "signin.refused", "person.changed");
        assertThat(types(VIEWER)).containsExactlyInAnyOrder("file.arrived", "team.changed");
        assertThat(types(STRANGER)).contains("file.gone").doesNotContain("file.arrived", "credential.changed");
        long id = list(ADMIN, "credential.changed", "", "", null, 1).get(0).id();
        assertThat(api.show(EDITOR, id).about()).containsEntry("name", "key");
        assertThatThrownBy(() -> api.show(VIEWER, id)).hasMessageContaining("there is no event");
        assertThatThrownBy(() -> api.show(STRANGER, id)).hasMessageContaining("there is no event");
    }

    @Test
    @DisplayName("is filtered by type, job, team and time, and read on from a place")
    void isFiltered() {
        assertThat(list(ADMIN, "file.*", "", "", null, 10))
                .extracting(JournalEvent::type)
                .containsExactly("file.gone", "file.arrived");
        assertThat(list(ADMIN, "", "take-in", "", null, 10)).hasSize(1);
        assertThat(list(ADMIN, "", "take", "", null, 10)).isEmpty();
        assertThat(list(ADMIN, "", "", "fleet", null, 10))
                .extracting(JournalEvent::team)
                .containsOnly("fleet");
        List<JournalEvent> first = list(ADMIN, "", "", "", 0L, 2);
        assertThat(first).extracting(JournalEvent::id).containsExactly(1L, 2L);
        assertThat(list(ADMIN, "", "", "", 2L, 2)).extracting(JournalEvent::id).containsExactly(3L, 4L);
        Instant later = CLOCK.instant().plus(Duration.ofHours(1));
        assertThat(api.list(ADMIN, "file.*", "", 0, "", later, null, 10, Long.MAX_VALUE)
                        .getBody())
                .isEmpty();
        for (String wrong : List.of("file.arrivd", "%", "run_ended", "file.*x")) {
            assertThatThrownBy(() -> list(ADMIN, wrong, "", "", null, 10)).hasMessageContaining("is no type of event");
        }
        assertThatThrownBy(() -> list(ADMIN, "", "a%", "", null, 10)).hasMessageContaining("is no name of a job");
        assertThatThrownBy(() -> list(ADMIN, "", "", "", null, 501)).hasMessageContaining("1 to 500");
        assertThat(api.types(VIEWER)).hasSize(EventType.values().length);
    }

    @Test
    @DisplayName("is not flooded by what comes from outside: so many a minute, and how many were left out")
    void isNotFlooded() {
        CLOCK.moveBy(Duration.ofMinutes(2));
        Notices notices = service.bean(Notices.class);
        for (int i = 0; i < 200; i++) {
            notices.tell(EventType.TOKEN_REFUSED, "", Map.of("message", "no"));
        }
        assertThat(list(ADMIN, "token.refused", "", "", null, 300)).hasSize(60);
        CLOCK.moveBy(Duration.ofMinutes(1));
        notices.tell(EventType.TOKEN_REFUSED, "", Map.of("message", "no"));
        assertThat(list(ADMIN, "token.refused", "", "", null, 1).get(0).about()).containsEntry("left-out", 140);
    }
}
