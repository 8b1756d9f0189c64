package org.gantrel.service.remote;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.concurrent.atomic.AtomicInteger;
import org.gantrel.core.action.Command;
import org.gantrel.core.text.ShellText;
import org.gantrel.service.Await;
import org.gantrel.service.Unreaped;
import org.gantrel.service.execution.Elsewhere.Order;
import org.gantrel.service.execution.RunFolder;
import org.gantrel.service.execution.TaskResult;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A script for another host")
class RemoteScriptTest {

    @TempDir
    private Path home;

    private final RemoteScript script = RemoteScript.of("abc", "7");

    private String shell(String text) throws IOException, InterruptedException {
        var builder = new ProcessBuilder("/bin/sh", "-s").redirectErrorStream(true);
        builder.environment().put("XDG_STATE_HOME", home.toString());
        Process process = builder.start();
        process.getOutputStream().write(text.getBytes(StandardCharsets.UTF_8));
        process.getOutputStream().close();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        process.waitFor();
        return said;
    }

    private String shell(Script text) throws IOException, InterruptedException {
        try (InputStream all = text.open()) {
            return shell(new String(all.readAllBytes(), StandardCharsets.UTF_8));
        }
    }

    private final Map<String, Path> files = new LinkedHashMap<>();

    private Order order(String... arguments) {
        var folder = new RunFolder(Path.of("x"));
        Map<String, String> environment = Map.of("WORD", "a'b\n$(c)");
        Command command = Command.of(arguments);
        return new Order(
                "7",
                null,
                command,
                environment,
                List.of(),
                false,
                "",
                files,
                Optional.empty(),
                folder,
                null,
                false,
                (there, worked) -> TaskResult.NOTHING);
    }

    @ParameterizedTest
    @ValueSource(strings = {"plain", "", "it's", "$(date) `x` $HOME", "two\nlines", "'", "\\", "-n", "* ? ~"})
    @DisplayName("takes every word as it is")
    void takesWords(String word) throws Exception {
        assertThat(shell("printf '%s|' " + ShellText.quote(List.of(word, word))))
                .isEqualTo(word + "|" + word + "|");
    }

    @Test
    @DisplayName("cannot hold a NUL")
    void refusesNul() {
        assertThatThrownBy(() -> ShellText.quote("a\0b")).hasMessageContaining("cannot hold a NUL");
    }

    @Test
    @DisplayName("starts a command once, says how far it is, hands over its log from any place, and leaves nothing")
    void startsOnce() throws Exception {
        assertThat(shell(script.poll(0, 100))).isEqualTo("absent - 0 0 -\n");
        Script launch = script.launch(order("sh", "-c", "echo \"$WORD\"; echo x >>\"$0\"", home + "/starts"));
        shell(launch);
        Await.until("it ended", () -> said(script.poll(0, 100)).startsWith("ended"));
        shell(launch);
        assertThat(home.resolve("starts")).hasContent("x\n");
        assertThat(shell(script.poll(0, 100))).matches("(?s)ended 0 \\d+ 9 \\S+/gantrel/abc/7\na'b\n\\$\\(c\\)\n");
        assertThat(shell(script.poll(4, 3))).endsWith("/7\n$(c");
        assertThat(shell(script.signal("TERM"))).isEmpty();
        shell(script.clean());
        assertThat(home.resolve("gantrel/abc/7")).doesNotExist();
    }

    @Test
    @DisplayName("says of a command that was told to stop that it has stopped, however it ended, full disk or not")
    void saysWhoWasTold() throws Exception {
        shell(script.launch(order("sh", "-c", "trap 'exit 0' TERM; while :; do sleep 0.1; done")));
        Await.until("it goes", () -> said(script.poll(0, 100)).startsWith("going"));
        Path told = home.resolve("gantrel/abc/7/told");
        Files.createDirectory(told);
        assertThat(shell(script.signal("CONT"))).isEqualTo("heard\n");
        Files.delete(told);
        assertThat(shell(script.signal("TERM"))).isEqualTo("heard\n");
        Await.until("it stopped", () -> said(script.poll(0, 100)).startsWith("stopped 0 "));
    }

    @Test
    @DisplayName("says that a command has ended whose parent does not ask how, and tells it nothing")
    void endsUnreaped() throws Exception {
        Path folder = Files.createDirectories(home.resolve("gantrel/abc/7"));
        try (var unreaped = new Unreaped(home)) {
            Files.writeString(folder.resolve("claim"), unreaped.mark + "\n");
            Files.writeString(folder.resolve("process"), unreaped.mark + "\n");
            Files.writeString(folder.resolve("exit"), "3\n");
            Files.writeString(folder.resolve("log"), "");
            assertThat(shell(script.poll(0, 100))).startsWith("ended 3 ");
            assertThat(shell(script.signal("TERM"))).isEmpty();
        }
    }

    @Test
    @DisplayName("brings files, whatever bytes they hold and whatever they are called, up to a limit")
    void bringsFiles() throws Exception {
        byte[] bytes = new byte[100_000];
        new Random(7).nextBytes(bytes);
        Path file = Files.write(home.resolve("it's $(today).bin"), bytes);
        files.put("SHEET", file);
        shell(script.launch(order("sh", "-c", "cp -- \"$SHEET\" \"$0\"", home + "/copy")));
        Await.until("it ended", () -> said(script.poll(0, 100)).startsWith("ended"));
        assertThat(home.resolve("copy")).hasBinaryContent(bytes);
        files.put("MORE", Files.write(home.resolve("more"), new byte[10_000_000]));
        assertThatThrownBy(() -> script.launch(order("true"))).hasMessageContaining("more than 10000000 bytes");
    }

    private String said(String text) {
        try {
            return shell(text);
        } catch (Exception e) {
            throw new AssertionError(e);
        }
    }

    @Test
    @DisplayName("is answered in as many bytes as are expected, and no more are held")
    void isAnsweredShortly() {
        var full = new AtomicInteger();
        var held = new Held(10, full::incrementAndGet);
        held.write(new byte[7], 0, 7);
        held.write(new byte[3], 0, 3);
        assertThat(held.isOver()).isFalse();
        held.write(1);
        held.write(new byte[1_000], 0, 1_000);
        assertThat(held.isOver()).isTrue();
        assertThat(held.toByteArray()).isEqualTo(new byte[10]);
        assertThat(full).hasValue(2);
    }

    @ParameterizedTest
    @ValueSource(ints = {0, 1, 2, 3, 56, 57, 58, 56_999, 57_000, 57_001, 171_000})
    @DisplayName("holds a file of any length in lines of base64")
    void holdsFiles(int length) throws Exception {
        byte[] bytes = new byte[length];
        new Random(length).nextBytes(bytes);
        Path file = Files.write(home.resolve("file"), bytes);
        try (InputStream all = Script.of("before\n").add(file).add("after\n").open()) {
            String text = new String(all.readAllBytes(), StandardCharsets.US_ASCII);
            assertThat(text).startsWith("before\n").endsWith("after\n");
            assertThat(text.lines()).allMatch(line -> line.length() <= 76);
            assertThat(Base64.getMimeDecoder().decode(text.substring(7, text.length() - 6)))
                    .isEqualTo(bytes);
        }
    }

    @Test
    @DisplayName("is answered after whatever the account's own start-up files say")
    void skipsGreetings() {
        assertThat(RemoteHost.afterMark("Welcome!\ngantrel:answer\nended 0".getBytes(StandardCharsets.UTF_8)))
                .asString()
                .isEqualTo("ended 0");
    }
}
