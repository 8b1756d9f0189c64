package org.gantrel.service.remote;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.action.Command;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.service.execution.Elsewhere.Listener;
import org.gantrel.service.execution.Elsewhere.Order;
import org.gantrel.service.execution.FetchedLog;
import org.gantrel.service.execution.RunFolder;
import org.gantrel.service.execution.TaskResult;
import org.gantrel.service.time.Stopwatch;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("What is asked of a host about a command there")
class RemoteCommandTest {

    private static final Instant BEGIN = Instant.parse("2026-11-28T01:00:00Z");

    @TempDir
    Path folder;

    private final Clock clock = mock(Clock.class);
    private final RemoteHost host = mock(RemoteHost.class);
    private final RemoteHosts hosts = mock(RemoteHosts.class);
    private final List<String> asked = new ArrayList<>();
    private final List<String> told = new ArrayList<>();
    private Instant now = BEGIN;
    private RemoteCommand command;

    /** A host, as far as a script goes. */
    private interface Answers {
        String to(String script) throws IOException;
    }

    @BeforeEach
    void begin() throws IOException {
        when(clock.instant()).thenAnswer(call -> now);
        when(hosts.take(any())).thenReturn(host);
        when(host.host()).thenReturn("quay.example.org");
        var order = new Order(
                "7",
                new Credential(
                        "quay", CredentialKind.SSH, Map.of("host", "quay.example.org", "user", "night"), Map.of()),
                Command.of("sh", "settle.sh"),
                Map.of(),
                List.of(),
                false,
                "",
                Map.of(),
                Optional.empty(),
                new RunFolder(folder),
                mock(FetchedLog.class),
                false,
                (there, worked) -> TaskResult.NOTHING);
        when(order.log().trouble()).thenReturn("");
        when(order.log().isEmpty()).thenReturn(true);
        Files.writeString(folder.resolve("sent"), "night@quay.example.org\n");
        command = new RemoteCommand(
                order,
                RemoteScript.of("here", "7"),
                hosts,
                new Listener() {
                    @Override
                    public void news(String text) {
                        told.add(text);
                    }

                    @Override
                    public void goesOn() {}

                    @Override
                    public void ended(TaskResult found) {
                        told.add("ended " + found.ending().map(Object::toString).orElse("with its code")
                                + (found.untold() ? ", untold" : ""));
                        command.settled();
                    }

                    @Override
                    public void refused(String why) {
                        told.add("refused " + why);
                    }
                },
                new Stopwatch() {
                    @Override
                    public long nanos() {
                        return ChronoUnit.NANOS.between(Instant.EPOCH, now);
                    }
                },
                clock);
    }

    private void works(Answers answers) throws Exception {
        when(host.run(any(), anyInt())).thenAnswer(call -> said(call.<Script>getArgument(0), answers));
        when(host.run(any())).thenAnswer(call -> said(Script.of(call.getArgument(0)), answers));
        command.work();
    }

    private RemoteHost.Answer said(Script script, Answers answers) throws IOException {
        String text = new String(script.open().readAllBytes(), StandardCharsets.UTF_8);
        String what = text.contains("kill -TERM")
                ? "TERM"
                : text.contains("kill -KILL")
                        ? "KILL"
                        : text.contains("rm -rf") ? "clean" : text.contains("setsid") ? "launch" : "look";
        asked.add(what);
        now = now.plus(Duration.ofSeconds(20));
        return new RemoteHost.Answer(0, answers.to(what).getBytes(StandardCharsets.UTF_8), "");
    }

    @Test
    @DisplayName(
            "is looked for two minutes more, not without pause, when it has been gone and the command is to be stopped")
    void isNotStormed() throws Exception {
        works(what -> {
            if (asked.size() == 1) {
                return "going - 0 0 /srv\n";
            }
            if (asked.size() == 3) {
                now = now.plus(Duration.ofMinutes(7));
                command.stop();
            }
            throw new IOException("nobody answers");
        });
        assertThat(told).first().isEqualTo("nobody answers; it goes on there, and is looked for");
        assertThat(told.get(1))
                .contains("quay.example.org has not answered for 9 min 20 s; whether the command still runs there");
        assertThat(asked).containsOnly("look").hasSizeLessThan(12);
    }

    @Test
    @DisplayName("is told of each stop once, when there is somebody to be told and the line holds")
    void isTold() throws Exception {
        works(what -> switch (asked.size()) {
            case 1 -> {
                command.stop();
                yield "claimed - 0 0 /srv\n";
            }
            case 3, 5 -> throw new IOException("the line was cut");
            case 8 -> {
                command.stop();
                yield "going - 0 0 /srv\n";
            }
            case 11 -> {
                // too late for it
                command.stop();
                yield "ended 137 0 0 /srv\n";
            }
            default -> what.equals("look") ? "going - 0 0 /srv\n" : "heard\n";
        });
        assertThat(asked.stream().filter(what -> !what.equals("look")).distinct())
                .containsExactly("TERM", "KILL", "clean");
        assertThat(told).last().isEqualTo("ended with its code");
        assertThat(folder.resolve("exit")).hasContent("137\n");
    }

    @Test
    @DisplayName(
            "ended by itself where it was over before the host could be asked to stop it, or found nobody to be told")
    void wasOver() throws Exception {
        works(what -> switch (asked.size()) {
            case 1 -> {
                command.stop();
                yield "going - 0 0 /srv\n";
            }
            case 2 -> "going - 0 0 /srv\n";
            case 3 -> "";
            default -> "ended 0 30 0 /srv\n";
        });
        assertThat(asked).startsWith("look", "look", "TERM", "look");
        assertThat(told).containsExactly("ended with its code, untold");
    }

    @ParameterizedTest
    @ValueSource(strings = {"ended", "stopped"})
    @DisplayName("ended by itself or was stopped as the host says it, where the line was cut while it was told")
    void hostKnows(String state) throws Exception {
        works(what -> switch (asked.size()) {
            case 1 -> {
                command.stop();
                yield "going - 0 0 /srv\n";
            }
            case 2 -> "going - 0 0 /srv\n";
            case 3 -> throw new IOException("the line was cut");
            default -> state + " 0 30 0 /srv\n";
        });
        assertThat(asked).startsWith("look", "look", "TERM", "look");
        assertThat(told).last().isEqualTo("ended with its code" + (state.equals("ended") ? ", untold" : ""));
    }

    @Test
    @DisplayName("did not, where a service before this one may have told it")
    void mayHaveHeard() throws Exception {
        Files.writeString(folder.resolve("told"), "");
        works(what -> "ended 143 0 0 /srv\n");
        assertThat(told).containsExactly("ended with its code");
    }

    @Test
    @DisplayName(
            "begins again while nobody has claimed it there, and not once its folder is gone, though it has said nothing")
    void isNotBegunAgain() throws Exception {
        works(what -> switch (asked.size()) {
            case 1 -> "absent - 0 0 -\n";
            case 3 -> "absent - 0 0 /srv\n";
            case 5 -> "claimed - 0 0 /srv\n";
            default -> what.equals("look") ? "absent - 0 0 -\n" : "";
        });
        assertThat(asked).containsExactly("look", "launch", "look", "launch", "look", "look", "clean");
        assertThat(told).singleElement().asString().contains("its folder on quay.example.org is gone");
    }
}
