package org.gantrel.service.execution;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.gantrel.core.action.Command;
import org.gantrel.service.Unreaped;
import org.gantrel.service.settings.Settings;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("A launched command")
class LauncherTest {

    @TempDir
    private Path data;

    private Launcher launcher;
    private RunFolder folder;

    @BeforeEach
    void make() throws IOException {
        launcher = new Launcher(Settings.usual(data));
        folder = launcher.folder(1001);
    }

    private int run(String script) throws IOException, InterruptedException {
        return launch(script).waitFor();
    }

    private Process launch(String script) throws IOException {
        return launcher.launch(
                folder,
                new Command(Command.shell(script), "", Map.of("GREETING", "hello")),
                Map.of("GANTREL_RUN", "1001"),
                Launcher.Manner.PLAIN);
    }

    @Test
    @DisplayName("leaves its output, its exit code and its process")
    void leavesItsFiles() throws Exception {
        assertThat(run("echo out; echo err >&2; exit 7")).isEqualTo(7);
        assertThat(Files.readString(folder.log())).isEqualTo("out\nerr\n");
        assertThat(folder.exit().orElseThrow().code()).isEqualTo(7);
        assertThat(folder.process()).isPresent();
        assertThat(folder.process().orElseThrow().isAlive()).isFalse();
        assertThat(folder.isClaimed()).isTrue();
        assertThat(folder.lastLines(1)).containsExactly("err");
    }

    @Test
    @DisplayName("is ended before the service is where memory runs out")
    void goesFirst() throws Exception {
        assertThat(run("cat /proc/self/oom_score_adj")).isZero();
        assertThat(Files.readString(folder.log())).isEqualTo("300\n");
    }

    @Test
    @DisplayName(
            "that has secrets never has them on the disk, however it prints them, and keeps its exit code and input")
    void neverHasSecretsOnTheDisk() throws Exception {
        var manner = new Launcher.Manner(
                Optional.empty(), List.of("s3cret", "s3cret and more"), true, "{\"key\":\"s3cret\"}");
        int code = launcher.launch(
                        folder,
                        new Command(
                                Command.shell("cat; echo a s3cret and more b; echo s3crets3cret >&2; env; exit 4"),
                                "",
                                Map.of()),
                        Map.of(),
                        manner)
                .waitFor();
        assertThat(code).isEqualTo(4);
        assertThat(folder.exit().orElseThrow().code()).isEqualTo(4);
        assertThat(Files.readAllLines(folder.log()))
                .contains("{\"key\":\"••••••\"}", "a •••••• b", "••••••••••••")
                .noneMatch(line -> line.startsWith("GANTREL_") || line.startsWith("COVERED"));
        assertThat(Files.readString(folder.errors())).isEqualTo("••••••••••••\n");
        try (Stream<Path> files = Files.walk(data)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                assertThat(Files.readString(file)).doesNotContain("s3cret");
            }
        }
    }

    @Test
    @DisplayName("is started once, however often it is launched")
    void isStartedOnce() throws Exception {
        assertThat(run("echo once")).isZero();
        assertThat(run("echo twice")).isEqualTo(75);
        assertThat(Files.readString(folder.log())).isEqualTo("once\n");
    }

    @Test
    @DisplayName("gets a clean environment: none of the service's own secrets, an empty input, a folder of its own")
    void getsACleanEnvironment() throws Exception {
        run("env | sort; pwd; cat");
        List<String> lines = Files.readAllLines(folder.log());
        assertThat(lines)
                .contains(
                        "GREETING=hello",
                        "GANTREL_RUN=1001",
                        folder.work().toRealPath().toString());
        assertThat(lines.stream().filter(line -> line.contains("=")).map(line -> line.split("=")[0]))
                .isSubsetOf(
                        "PATH",
                        "HOME",
                        "USER",
                        "LOGNAME",
                        "LANG",
                        "LC_ALL",
                        "TZ",
                        "TMPDIR",
                        "PWD",
                        "OLDPWD",
                        "SHLVL",
                        "_",
                        "GREETING",
                        "GANTREL_RUN");
    }

    @Test
    @DisplayName("takes its arguments as they are, whatever a shell would make of them")
    void takesArgumentsAsTheyAre() throws Exception {
        List<String> arguments = List.of("/bin/echo", "$HOME", "a b", "; rm -rf x", "`date`", "*", "--", "ünïcode");
        launcher.launch(folder, new Command(arguments, "", Map.of()), Map.of(), Launcher.Manner.PLAIN)
                .waitFor();
        assertThat(Files.readString(folder.log())).isEqualTo("$HOME a b ; rm -rf x `date` * -- ünïcode\n");
    }

    @Test
    @DisplayName("is in a session of its own, and a signal reaches all that it started")
    void isInItsOwnSession() throws Exception {
        Process process = launch("sleep 60 & sleep 60");
        while (folder.process().isEmpty()) {
            Thread.onSpinWait();
        }
        ProcessMark mark = folder.process().orElseThrow();
        assertThat(mark.isAlive()).isTrue();
        assertThat(mark.pid()).isEqualTo(process.pid());
        assertThat(new ProcessMark(mark.pid(), "1").isAlive())
                .as("another start time is another process")
                .isFalse();
        launcher.signal("TERM", List.of(-mark.pid()), Optional.empty());
        assertThat(process.waitFor()).isEqualTo(143);
        assertThat(folder.exit().orElseThrow().code()).isEqualTo(143);
        assertThat(process.descendants()).isEmpty();
    }

    @Test
    @DisplayName("has ended where it has, though its parent does not ask how")
    void hasEnded() throws Exception {
        try (var unreaped = new Unreaped(data)) {
            assertThat(ProcessMark.parse(unreaped.mark).orElseThrow().isAlive()).isFalse();
        }
    }

    @Test
    @DisplayName("is seen whatever it calls itself: a name need be no text")
    void isSeen() throws Exception {
        String named = "n=%s/$(printf '\\377\\376'); cp /bin/sleep \"$n\" && exec \"$n\" 60".formatted(data);
        Process process = new ProcessBuilder("sh", "-c", named).start();
        Path stat = Path.of("/proc/" + process.pid() + "/stat");
        while (Files.readString(stat, StandardCharsets.ISO_8859_1).indexOf(0xff) < 0) {
            Thread.onSpinWait();
        }
        try {
            assertThat(ProcessSeen.of(process.pid())).isPresent();
        } finally {
            process.destroy();
        }
    }

    @RepeatedTest(20)
    @DisplayName("can be ended from the moment that its mark is there")
    void canBeEndedAtOnce() throws Exception {
        Process process = launch("exec sleep 60");
        while (folder.process().isEmpty()) {
            Thread.onSpinWait();
        }
        launcher.signal("TERM", List.of(-folder.process().orElseThrow().pid()), Optional.empty());
        assertThat(process.waitFor(20, TimeUnit.SECONDS)).isTrue();
        assertThat(folder.exit().orElseThrow().code()).isEqualTo(143);
    }

    @Test
    @DisplayName("whose log is long is known by its last lines, whole ones only")
    void isKnownByItsLastLines() throws Exception {
        run("i=0; while [ $i -lt 3000 ]; do echo line number $i; i=$((i+1)); done");
        assertThat(folder.lastLines(2)).containsExactly("line number 2998", "line number 2999");
        assertThat(folder.lastLines(100_000))
                .allMatch(line -> line.matches("line number \\d+"))
                .hasSizeLessThan(600);
    }
}
