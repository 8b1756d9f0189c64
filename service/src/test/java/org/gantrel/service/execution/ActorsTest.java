package org.gantrel.service.execution;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.job.Job;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.places.NotReachable;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Teams;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("What is done on this host for a task")
class ActorsTest {

    private final Credentials credentials = mock(Credentials.class);
    private final Settings settings = mock(Settings.class);
    private Actors actors;

    @BeforeEach
    void make() {
        when(credentials.shown(any())).thenReturn(Optional.empty());
        when(credentials.complaint(any(), any(), any())).thenReturn(Optional.empty());
        keep("quay", CredentialKind.SSH, Map.of("host", "quay.example.org", "user", "night"));
        keep("games", CredentialKind.ACCOUNT, Map.of("account", "games"));
        keep("root", CredentialKind.ACCOUNT, Map.of("account", "root"));
        keep("moved-out", CredentialKind.ACCOUNT, Map.of("account", "nobody-of-that-name"));
        keep("tickets", CredentialKind.DATABASE, Map.of("url", "jdbc:h2:tcp://db.example.org/tickets"));
        when(settings.runAs()).thenReturn(Optional.of("nobody"));
        when(settings.ownFolders()).thenReturn(new Path[0]);
        actors = new Actors(credentials, settings);
    }

    private void keep(String name, CredentialKind kind, Map<String, String> facts) {
        when(credentials.shown(name)).thenReturn(Optional.of(new Credential(name, kind, facts, Map.of())));
    }

    private static Job.Task task(String does, String identity) {
        return (Job.Task) DefinitionReader.readOne("task: a\nteam: t\ndoes: { " + does + " }\n" + identity)
                .job();
    }

    @ParameterizedTest(name = "{1}, {0}: as {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "shell: x   |                              | nobody",
                "shell: x   | acts-as: games               | games",
                "shell: x   | acts-as: quay                | nobody",
                "shell: x   | acts-as: moved-out           | nobody",
                "shell: x   | acts-as: gone                | nobody",
                "shell: x   | raised: yes                  | own",
                "sql: select 1 | acts-as: tickets          | nobody"
            })
    @DisplayName("is done as an account, and as the service's own only where that is said")
    void actsAs(String does, String identity, String account) {
        assertThat(actors.account(task(does, identity == null ? "" : identity + "\n"))
                        .map(Account::name)
                        .orElse("own"))
                .isEqualTo(account);
    }

    @Test
    @DisplayName("is not done as an account that the task may not act as, or not without saying so")
    void isNotDone() {
        Teams teams = mock(Teams.class);
        when(teams.named(any())).thenReturn(Optional.empty());
        var hands = new AccountHands(actors, teams, settings);
        Job.Task games = task("shell: x", "acts-as: games\n");
        assertThatCode(() -> hands.of("t", games).close()).doesNotThrowAnyException();
        when(credentials.complaint(eq("games"), any(), any())).thenReturn(Optional.of("it is not for the team t"));
        assertThatThrownBy(() -> hands.of("t", games))
                .isInstanceOf(NotReachable.class)
                .hasMessage("it is not for the team t");
        assertThatThrownBy(() -> hands.of("t", task("shell: x", "acts-as: root\n")))
                .isInstanceOf(NotReachable.class)
                .hasMessageContaining("does not say 'raised: yes'");
        assertThatThrownBy(() -> hands.of("t", task("shell: x", "acts-as: moved-out\n")))
                .isInstanceOf(NotReachable.class)
                .hasMessage("this host has no account 'nobody-of-that-name'");
    }
}
