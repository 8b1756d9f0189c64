package org.gantrel.service.git;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import org.apache.commons.compress.archivers.tar.TarArchiveEntry;
import org.apache.commons.compress.archivers.tar.TarArchiveInputStream;
import org.eclipse.jgit.lib.CommitBuilder;
import org.eclipse.jgit.lib.FileMode;
import org.eclipse.jgit.lib.ObjectId;
import org.eclipse.jgit.lib.ObjectInserter;
import org.eclipse.jgit.lib.PersonIdent;
import org.eclipse.jgit.lib.RefUpdate;
import org.eclipse.jgit.lib.Repository;
import org.eclipse.jgit.lib.TreeFormatter;
import org.eclipse.jgit.storage.file.FileRepositoryBuilder;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.action.GitSource.Otherwise;
import org.gantrel.service.execution.Sources;
import org.gantrel.service.places.LocalHands;
import org.gantrel.service.places.Reachable;
import org.gantrel.service.remote.HostPrograms;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.work.Destinations;
import org.gantrel.service.work.WorkFailed;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.mockito.Mockito;

@DisplayName("Files taken from a repository")
class GitSourcesTest {

    /** What stands in a tree. */
    private record Entry(String name, FileMode mode, String content) {
        static Entry file(String name) {
            return new Entry(name, FileMode.REGULAR_FILE, "content of " + name);
        }

        static Entry link(String name, String to) {
            return new Entry(name, FileMode.SYMLINK, to);
        }
    }

    @TempDir
    static Path shared;

    private static GitProcesses processes;

    @TempDir
    Path folder;

    private final Destinations destinations = mock(Destinations.class);
    private Path path;
    private GitSources sources;

    @BeforeAll
    static void open() {
        Settings settings = mock(Settings.class);
        when(settings.data()).thenReturn(shared);
        processes = new GitProcesses(settings);
    }

    @AfterAll
    static void shut() {
        processes.close();
    }

    @BeforeEach
    void begin() throws IOException {
        Settings settings = mock(Settings.class, Mockito.RETURNS_DEEP_STUBS);
        when(settings.data()).thenReturn(folder.resolve("data"));
        when(destinations.way(any())).thenAnswer(call -> new Destinations.Way(call.getArgument(0), Optional.empty()));
        sources = new GitSources(settings, processes, mock(HostPrograms.class), destinations, Clock.systemUTC());
        path = folder.resolve("crew.git");
        OwnSettings.use();
    }

    private ObjectId commit(Entry... entries) throws IOException {
        return commit(List.of(entries), ignored -> {});
    }

    private interface More {
        void in(Repository repository) throws IOException;
    }

    /** Makes trees as no program of Git would: as they are written here. */
    private ObjectId commit(List<Entry> entries, More more) throws IOException {
        try (Repository repository =
                new FileRepositoryBuilder().setGitDir(path.toFile()).setBare().build()) {
            if (!Files.exists(path)) {
                repository.create(true);
            }
            ObjectId commit;
            try (ObjectInserter inserter = repository.newObjectInserter()) {
                var tree = new TreeFormatter();
                for (Entry each : entries) {
                    ObjectId content = each.mode() == FileMode.TREE
                            ? ObjectId.fromString(each.content())
                            : inserter.insert(
                                    org.eclipse.jgit.lib.Constants.OBJ_BLOB,
                                    each.content().getBytes(StandardCharsets.UTF_8));
                    byte[] name = each.name().getBytes(StandardCharsets.UTF_8);
                    tree.append(name, 0, name.length, each.mode(), content);
                }
                var made = new CommitBuilder();
                made.setTreeId(inserter.insert(tree));
                var crew = new PersonIdent(
                        "Crew",
                        "crew@example.org",
                        Instant.parse("2026-11-01T06:00:00Z"),
                        Clock.systemUTC().getZone());
                made.setAuthor(crew);
                made.setCommitter(crew);
                made.setMessage("Change");
                commit = inserter.insert(made);
                inserter.flush();
            }
            RefUpdate head = repository.updateRef("HEAD");
            head.setNewObjectId(commit);
            head.forceUpdate();
            more.in(repository);
            return commit;
        }
    }

    private Sources.Taken take(String address, Otherwise otherwise, Duration patience) throws Exception {
        return sources.take(
                new GitSource(address, GitSource.USUAL, "", otherwise, patience),
                new Sources.Asking(
                        "crew",
                        "nobody",
                        name -> null,
                        () -> new LocalHands(Reachable.of(List.of(), folder.resolve("data"))),
                        () -> false));
    }

    private Sources.Taken take() throws Exception {
        return take(path.toString(), Otherwise.FAIL, Duration.ofSeconds(30));
    }

    @Test
    @DisplayName("are laid out and packed as they are, links last and not followed")
    void areLaidOut() throws Exception {
        commit(Entry.file("a.txt"), Entry.link("b", "/etc/passwd"), new Entry("c.sh", FileMode.EXECUTABLE_FILE, "#!"));
        try (Sources.Taken taken = take()) {
            Path laid = Files.createDirectory(folder.resolve("laid"));
            taken.layOut(laid);
            assertThat(laid.resolve("a.txt")).hasContent("content of a.txt");
            assertThat(Files.getLastModifiedTime(laid.resolve("a.txt")).toInstant())
                    .isEqualTo(Instant.parse("2026-11-01T06:00:00Z"));
            assertThat(Files.readSymbolicLink(laid.resolve("b"))).isEqualTo(Path.of("/etc/passwd"));
            assertThat(laid.resolve("c.sh")).isExecutable();
            assertThatThrownBy(() -> taken.look("b")).hasMessageContaining("b of " + path);
            assertThatThrownBy(() -> taken.look("../a.txt")).isInstanceOf(IOException.class);
            var packed = new ByteArrayOutputStream();
            taken.pack(packed);
            var names = new ArrayList<String>();
            try (var tar =
                    new TarArchiveInputStream(new GZIPInputStream(new ByteArrayInputStream(packed.toByteArray())))) {
                for (TarArchiveEntry each = tar.getNextEntry(); each != null; each = tar.getNextEntry()) {
                    names.add(each.getName() + " " + Integer.toOctalString(each.getMode() & 0111) + each.getLinkName());
                }
            }
            assertThat(names).containsExactly("a.txt 0", "c.sh 111", "b 0/etc/passwd");
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"../x", "..", ".", ".git", ".GIT", "/etc/x", "a//b", "a/../../x"})
    @DisplayName("never leave their folder, whatever the repository calls them")
    void neverLeave(String name) throws Exception {
        commit(Entry.file(name));
        Path laid = Files.createDirectory(folder.resolve("laid"));
        assertThatThrownBy(() -> {
                    try (Sources.Taken taken = take()) {
                        taken.layOut(laid);
                    }
                })
                .isInstanceOf(IOException.class);
        assertThat(folder.resolve("x")).doesNotExist();
        assertThat(laid).isEmptyDirectory();
    }

    @Test
    @DisplayName("are not written through a link of the same name")
    void areNotWrittenThroughLinks() throws Exception {
        Path outside = Files.createDirectory(folder.resolve("outside"));
        commit(Entry.link("a", outside.toString()), Entry.file("a/x"), Entry.file("b"), Entry.link("b", "/etc/passwd"));
        Path laid = Files.createDirectory(folder.resolve("laid"));
        assertThatThrownBy(() -> {
                    try (Sources.Taken taken = take()) {
                        taken.layOut(laid);
                    }
                })
                .hasMessageContaining("twice");
        assertThat(outside).isEmptyDirectory();
    }

    @Test
    @DisplayName("are those of now: of a branch that moved, went away, or was packed together")
    void areThoseOfNow() throws Exception {
        commit(Entry.file("a"));
        take().close();
        ObjectId second = commit(Entry.file("b"));
        try (Sources.Taken taken = take()) {
            assertThat(taken.commit()).isEqualTo(second.name());
            assertThat(taken.paths()).containsExactly("b");
        }
        ObjectId third = commit(List.of(Entry.file("c")), repository -> {
            try (var git = new org.eclipse.jgit.api.Git(repository)) {
                git.gc().setExpire(Instant.now()).call();
            } catch (org.eclipse.jgit.api.errors.GitAPIException e) {
                throw new IOException(e);
            }
        });
        try (Sources.Taken taken = take()) {
            assertThat(taken.commit()).isEqualTo(third.name());
        }
    }

    @Test
    @DisplayName("are read by many at once, who share one copy")
    void areShared() throws Exception {
        ObjectId commit = commit(Entry.file("a"));
        List<String> commits = IntStream.range(0, 16)
                .parallel()
                .mapToObj(i -> {
                    try (Sources.Taken taken = take()) {
                        return taken.commit();
                    } catch (Exception e) {
                        return e.toString();
                    }
                })
                .distinct()
                .toList();
        assertThat(commits).containsExactly(commit.name());
        try (Stream<Path> copies = Files.list(folder.resolve("data/repositories"))) {
            assertThat(copies).hasSize(1);
        }
    }

    @Test
    @DisplayName("are the last that were known where the repository has gone, if that is chosen")
    void areTheLast() throws Exception {
        ObjectId commit = commit(Entry.file("a"));
        take().close();
        Files.move(path, folder.resolve("elsewhere"));
        try (Sources.Taken taken = take(path.toString(), Otherwise.LAST, Duration.ofSeconds(5))) {
            assertThat(taken.commit()).isEqualTo(commit.name());
            assertThat(taken.old()).isEqualTo("there is no folder " + path);
        }
        assertThatThrownBy(this::take).hasMessage("there is no folder " + path);
    }

    @Test
    @DisplayName("are refused where a folder of them is too large to be read")
    void areTooLarge() throws Exception {
        // a folder of many files, which is nothing once it is packed
        byte[] one = "100644 aaaaaaaaaaaaaaaaaaaa\0aaaaaaaaaaaaaaaaaaaa".getBytes(StandardCharsets.UTF_8);
        byte[] all = new byte[one.length * 100_000];
        for (int i = 0; i < all.length; i++) {
            all[i] = one[i % one.length];
        }
        commit(Entry.file("a"));
        ObjectId tree;
        try (Repository repository =
                        new FileRepositoryBuilder().setGitDir(path.toFile()).build();
                ObjectInserter inserter = repository.newObjectInserter()) {
            tree = inserter.insert(org.eclipse.jgit.lib.Constants.OBJ_TREE, all);
            inserter.flush();
        }
        commit(new Entry("many", FileMode.TREE, tree.name()));
        assertThatThrownBy(this::take)
                .hasMessage("the repository at " + path
                        + " holds a folder or a commit of more than 4 MB, too large to be taken");
        ObjectId commit = commit(Entry.file("b"));
        try (Sources.Taken taken = take()) {
            assertThat(taken.commit()).isEqualTo(commit.name());
        }
    }

    @Test
    @DisplayName("are taken after a service that ended while it wrote: what it left is removed, names like it are not")
    void areTakenAfterAKill() throws Exception {
        ObjectId commit = commit(List.of(Entry.file("a")), repository -> {
            RefUpdate branch = repository.updateRef("refs/heads/gc_week");
            branch.setNewObjectId(repository.resolve("HEAD"));
            branch.update();
        });
        take().close();
        Path copy;
        try (Stream<Path> copies = Files.list(folder.resolve("data/repositories"))) {
            copy = copies.findFirst().orElseThrow();
        }
        List<Path> left = Stream.of("packed-refs.lock", "refs/heads/main.lock", "objects/incoming_1.pack", "state.part")
                .map(copy::resolve)
                .toList();
        for (Path each : left) {
            Files.writeString(each, "x");
        }
        Files.writeString(copy.resolve("state-" + commit.name() + ".list"), "{");
        begin();
        try (Sources.Taken taken = take()) {
            assertThat(taken.paths()).containsExactly("a");
        }
        assertThat(left).allMatch(each -> Files.notExists(each));
        assertThat(copy.resolve("refs/heads/gc_week")).exists();
    }

    @ParameterizedTest
    @ValueSource(strings = {"refs", "refs/heads", "objects/pack"})
    @DisplayName("are brought into a copy that is made anew where the last process ended while it made one")
    void areTakenAfterAKillInTheBeginning(String made) throws Exception {
        Path copy = folder.resolve("copy");
        Files.createDirectories(copy.resolve(made));
        Files.createDirectories(folder.resolve("copy.new/refs"));
        var source = new GitSource(
                "http://127.0.0.1/crew.git", GitSource.USUAL, "", Otherwise.FAIL, GitSource.USUAL_PATIENCE);
        for (int i = 0; i < 2; i++) {
            try (var opened = new GitCopy(copy, source)) {
                assertThat(opened.isKnown()).isFalse();
            }
            // what keeps it from being led elsewhere holds for each, whenever it was made
            assertThat(copy.resolve("config")).content().contains("followRedirects = false", "fsckObjects = true");
            Files.delete(copy.resolve("config"));
        }
        assertThat(folder.resolve("copy.new")).doesNotExist();
    }

    @Test
    @DisplayName("are written down once for each commit, and the oldest of these go")
    void areWrittenDown() throws Exception {
        ObjectId last = null;
        for (int i = 0; i < 6; i++) {
            last = commit(Entry.file("week-" + i));
            take().close();
            take().close();
        }
        try (Stream<Path> files = Files.walk(folder.resolve("data/repositories"))) {
            List<String> states = files.map(each -> each.getFileName().toString())
                    .filter(each -> each.startsWith("state-"))
                    .toList();
            assertThat(states).hasSize(8).contains("state-" + last.name(), "state-" + last.name() + ".list");
        }
    }

    @Test
    @DisplayName("are not waited for longer than there is patience, and not asked for where no request goes")
    void areNotWaitedFor() throws Exception {
        try (var silent = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
            String address = "http://127.0.0.1:" + silent.getLocalPort() + "/crew.git";
            assertThatThrownBy(() -> take(address, Otherwise.FAIL, Duration.ofSeconds(1)))
                    .hasMessage("127.0.0.1:" + silent.getLocalPort() + " did not answer within 1.0 s");
            when(destinations.way(any())).thenThrow(new WorkFailed("no request of a job goes there"));
            assertThatThrownBy(() -> take(address, Otherwise.LAST, Duration.ofSeconds(1)))
                    .hasMessage("no request of a job goes there");
        }
    }
}
