package org.gantrel.service.execution;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.CALLS_REAL_METHODS;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.doReturn;
import static org.mockito.Mockito.mock;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import org.gantrel.core.job.Outputs.Output;
import org.gantrel.core.run.ExitRule;
import org.gantrel.core.run.Item;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.run.OutcomeRule.ErrorStream;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.SafePattern;
import org.gantrel.service.durable.RoomToKeep;
import org.gantrel.service.places.Hands;
import org.gantrel.service.places.LocalHands;
import org.gantrel.service.places.Reachable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("What a command leaves behind")
class AftermathTest {

    @TempDir
    private Path folder;

    private Path worked;
    private RunFolder run;
    private long free = 1L << 40;

    @BeforeEach
    void make() throws IOException {
        worked = Files.createDirectory(folder.resolve("work"));
        run = new RunFolder(Files.createDirectory(folder.resolve("run")));
    }

    private TaskResult look(OutcomeRule rule, Output... outputs) {
        return new Aftermath(
                        rule,
                        List.of(outputs),
                        worked.toString(),
                        run,
                        new LocalHands(new Reachable(List.of(worked.toString()), List.of())),
                        new RoomToKeep(place -> free, 1 << 20),
                        name -> name)
                .look();
    }

    private static OutcomeRule rule(String failedBy, String warnedBy, String results) {
        return new OutcomeRule(
                ExitRule.USUAL,
                failedBy.isEmpty() ? List.of() : List.of(SafePattern.kept(failedBy)),
                warnedBy.isEmpty() ? List.of() : List.of(SafePattern.kept(warnedBy)),
                ErrorStream.ALLOWED,
                results);
    }

    @Test
    @DisplayName("is searched for the first line that means something, also where it is no UTF-8")
    void isSearched() throws IOException {
        Files.write(run.log(), new byte[] {'o', 'k', '\n', (byte) 0xff, (byte) 0xfe, '\n'});
        Files.writeString(
                run.log(), "a slow one\nERROR first\nERROR second\n", java.nio.file.StandardOpenOption.APPEND);
        Files.writeString(run.path().resolve("errors"), "\n  \noops\n");
        TaskResult found = look(rule("^ERROR", "slow", ""));
        assertThat(found.evidence().failedLine()).contains("ERROR first");
        assertThat(found.evidence().warnedLine()).contains("a slow one");
        assertThat(found.evidence().errorLine()).contains("oops");
        assertThat(look(OutcomeRule.USUAL).evidence().failedLine()).isEmpty();
    }

    @Test
    @DisplayName("may be one line of any length, and what is too much for a pattern is said")
    void mayBeOneLine() throws IOException {
        try (var out = Files.newBufferedWriter(run.log())) {
            out.write("a".repeat(9_999));
            for (int i = 0; i < 3_000; i++) {
                out.write("x".repeat(10_000));
            }
            out.write("\nERROR in the end\n");
        }
        assertThat(look(rule("ERROR", "", "")).evidence().failedLine()).contains("ERROR in the end");
        Files.writeString(worked.resolve("out.csv"), "1");
        TaskResult found = look(rule("(a|aa)+\\1c", "", ""), new Output("out.csv", "out.csv", 10));
        assertThat(found.lost()).isEqualTo("a line of 10000 characters is too much for the pattern '(a|aa)+\\1c'");
        assertThat(run.outputs().resolve("out.csv")).exists();
    }

    @Test
    @DisplayName(
            "is looked through as far as its patterns let it be done in minutes, and it is said where that was not all")
    void mayBeTooLong() throws IOException {
        try (var out = Files.newBufferedWriter(run.log())) {
            for (int i = 0; i < 1_000; i++) {
                out.write("a".repeat(9_999));
                out.newLine();
            }
            out.write("z".repeat(4_000));
        }
        TaskResult found = look(rule("(z{1000}){4}", "", ""));
        assertThat(found.evidence().failedLine()).isEmpty();
        assertThat(found.lost()).isEqualTo("its log is too long for its patterns: the rest was not looked through");
        assertThat(look(rule("z{1000}", "", "")).evidence().failedLine()).isPresent();
    }

    @Test
    @DisplayName("is kept though another output cannot be, and its log counts")
    void mayBePartly() throws IOException {
        Files.writeString(run.log(), "ERROR first\n");
        Files.createSymbolicLink(worked.resolve("round"), Path.of("round"));
        Files.writeString(worked.resolve("out.csv"), "1");
        TaskResult found =
                look(rule("ERROR", "", ""), new Output("round", "round", 10), new Output("out.csv", "out.csv", 10));
        assertThat(found.evidence().failedLine()).contains("ERROR first");
        assertThat(found.lost()).startsWith("the output round cannot be kept: ");
        assertThat(run.outputs().resolve("out.csv")).hasContent("1");
    }

    @Test
    @DisplayName("is kept as far as there is room that nobody else needs")
    void leavesRoom() throws IOException {
        Files.writeString(worked.resolve("small.csv"), "1");
        Files.writeString(worked.resolve("large.csv"), "x".repeat(2_000));
        free = (1 << 20) + 1_000;
        TaskResult found = look(
                OutcomeRule.USUAL,
                new Output("large.csv", "large.csv", 10_000),
                new Output("small.csv", "small.csv", 10));
        assertThat(found.lost())
                .isEqualTo("the output large.csv is not kept: there is no room for it on the disk:"
                        + " at least 1 MB stay free (least-free-space)");
        assertThat(run.outputs().resolve("small.csv")).hasContent("1");
    }

    @Test
    @DisplayName("is kept as far as it may, whatever is written to it meanwhile")
    void mayGrow() throws IOException {
        Hands hands = mock(Hands.class, CALLS_REAL_METHODS);
        doReturn(true).when(hands).isFolder(worked.toString());
        doReturn(false).when(hands).isFolder(worked + "/out.csv");
        doReturn(new Hands.Entry("out.csv", 10, Instant.EPOCH)).when(hands).look(worked + "/out.csv");
        doAnswer(call -> new InputStream() {
                    @Override
                    public int read() {
                        return 'x';
                    }
                })
                .when(hands)
                .open(worked + "/out.csv");
        var aftermath = new Aftermath(
                OutcomeRule.USUAL,
                List.of(new Output("out.csv", "out.csv", 100_000)),
                worked.toString(),
                run,
                hands,
                new RoomToKeep(place -> free, 1 << 20),
                name -> name);
        TaskResult found = aftermath.look();
        assertThat(found.lost())
                .isEqualTo("the output out.csv grows while it is read: it has more than 100000 bytes,"
                        + " at most that are kept");
        assertThat(run.outputs().resolve("out.csv")).doesNotExist();
    }

    @Test
    @DisplayName("is read for test results, and a file that is none is an item that failed")
    void isReadForTestResults() throws IOException {
        Files.createDirectory(worked.resolve("t"));
        Files.writeString(worked.resolve("t/a.xml"), "<testsuite><testcase name='opens'/></testsuite>");
        Files.writeString(worked.resolve("t/b.xml"), "no xml");
        assertThat(look(rule("", "", "t/*.xml")).items())
                .extracting(Item::name, Item::state)
                .containsExactly(
                        org.assertj.core.groups.Tuple.tuple("opens", RunState.SUCCEEDED),
                        org.assertj.core.groups.Tuple.tuple("b.xml", RunState.FAILED));
    }

    @Test
    @DisplayName("is kept where it is declared: a file under its name, the files of a folder, those of a glob")
    void isKept() throws IOException {
        Files.writeString(worked.resolve("sales.csv"), "1");
        Files.createDirectories(worked.resolve("out/deep"));
        Files.writeString(worked.resolve("out/a.txt"), "2");
        Files.writeString(worked.resolve("out/deep/b.txt"), "3");
        TaskResult found = look(
                OutcomeRule.USUAL,
                new Output("sales-2026.csv", "sales.csv", 10),
                new Output("all", "out", 10),
                new Output("texts", "out/*.txt", 10));
        assertThat(found.lost()).isEmpty();
        assertThat(run.outputs().resolve("sales-2026.csv")).hasContent("1");
        assertThat(run.outputs().resolve("all/out/deep/b.txt")).hasContent("3");
        assertThat(run.outputs().resolve("texts")).hasContent("2");
    }

    @Test
    @DisplayName("is not kept where it is missing, too large, a link out of the folder, or would leave the outputs")
    void isNotKept() throws IOException {
        Files.writeString(worked.resolve("large.csv"), "12345678901");
        Files.writeString(worked.resolve("small.csv"), "1");
        Files.createSymbolicLink(worked.resolve("link.csv"), Files.writeString(folder.resolve("secret"), "x"));
        Files.createSymbolicLink(worked.resolve("aside"), folder);
        assertThat(look(rule("", "", "aside/*")).items()).extracting(Item::name).containsExactly("test results");
        TaskResult found = look(
                OutcomeRule.USUAL,
                new Output("none.csv", "none.csv", 10),
                new Output("large.csv", "large.csv", 10),
                new Output("link.csv", "link.csv", 10),
                new Output("../../away.csv", "small.csv", 10),
                new Output("hosts", "/etc/hosts", 10_000_000),
                new Output("above", "../secret", 10),
                new Output("aside", "aside/secret", 10));
        assertThat(found.lost())
                .contains(
                        "the output none.csv is not there",
                        "the output large.csv has 11 bytes, at most 10 are kept",
                        "the output link.csv is not there",
                        "would leave its folder",
                        "the output /etc/hosts leaves " + worked,
                        "the output ../secret leaves " + worked,
                        "the output aside/secret is not there");
        assertThat(run.outputs()).doesNotExist();
        assertThat(folder.resolve("away.csv")).doesNotExist();
    }

    @Test
    @DisplayName("of a folder that is gone is told, and does not end the service")
    void ofAFolderThatIsGone() throws IOException {
        Files.delete(worked);
        TaskResult found = look(rule("", "", "*.xml"), new Output("a", "a", 1));
        assertThat(found.lost()).isEqualTo("the output a is not there");
        assertThat(found.items()).extracting(Item::name).containsExactly("test results");
    }
}
