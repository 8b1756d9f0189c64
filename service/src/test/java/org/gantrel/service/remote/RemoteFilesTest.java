package org.gantrel.service.remote;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.file.virtualfs.VirtualFileSystemFactory;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;
import org.apache.sshd.sftp.server.SftpSubsystemFactory;
import org.gantrel.service.places.FoldersToRead;
import org.gantrel.service.places.LocalHands;
import org.gantrel.service.places.NotReachable;
import org.gantrel.service.places.Reachable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("The files of another host")
class RemoteFilesTest {

    private static final int MOST_ASKED = 10;
    private static final List<String> NAMES = List.of("a", "b.csv", "å", "c d", "e");
    private static final List<String> GLOBS = List.of("**", "*", "*.csv", "**/*.csv", "a/*", "a/**", "**/å", "none");

    /** What is another host's root. */
    @TempDir
    Path there;

    @TempDir
    Path own;

    private final SshServer server = SshServer.setUpDefaultServer();
    private final SshClient client = SshClient.setUpDefaultClient();
    private ClientSession session;

    @BeforeEach
    void open() throws IOException {
        server.setHost("127.0.0.1");
        server.setKeyPairProvider(new SimpleGeneratorHostKeyProvider(own.resolve("key")));
        server.setPasswordAuthenticator((user, given, from) -> true);
        server.setFileSystemFactory(new VirtualFileSystemFactory(there));
        server.setSubsystemFactories(List.of(new SftpSubsystemFactory()));
        server.start();
        client.setServerKeyVerifier((from, address, key) -> true);
        client.start();
        session = client.connect("night", "127.0.0.1", server.getPort())
                .verify(Duration.ofSeconds(30))
                .getSession();
        session.addPasswordIdentity("x");
        session.auth().verify(Duration.ofSeconds(30));
    }

    @AfterEach
    void shut() throws IOException {
        client.stop();
        server.stop(true);
    }

    /** What comes of asking: an answer, or the kind of error. */
    private interface Question {
        Object of(FoldersToRead files, String root) throws IOException;
    }

    private static Object answer(FoldersToRead files, String root, Question question) {
        try {
            return question.of(files, root);
        } catch (IOException e) {
            return e.getClass();
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3})
    @DisplayName("are seen as those of this host would be, links and all, and nothing of this host's own is among them")
    void areSeen(long seed) throws IOException {
        var random = new Random(seed);
        Path worked = Files.createDirectories(there.resolve("srv/plan"));
        Files.writeString(there.resolve("srv/secret"), "outside");
        var paths = new ArrayList<>(List.of("", "x", "../secret", "out", "out/secret"));
        var made = new ArrayList<String>();
        fill(worked, worked, 3, random, made);
        Collections.shuffle(made, random);
        paths.addAll(made.subList(0, Math.min(MOST_ASKED, made.size())));
        Files.createSymbolicLink(worked.resolve("out"), Path.of(".."));
        var here = new LocalHands(new Reachable(List.of(worked.toRealPath().toString()), List.of()));
        String root = worked.toRealPath().toString();
        try (RemoteFiles remote = new RemoteFiles(session)) {
            FoldersToRead files = remote.below("/srv/plan");
            assertThat(answer(files, root, FoldersToRead::isFolder)).isEqualTo(NotReachable.class);
            for (String path : paths) {
                String below = path.isEmpty() ? "" : "/" + path;
                var questions = new ArrayList<Question>(List.of(
                        (asked, at) -> asked.isFolder(at + below),
                        (asked, at) -> asked.look(at + below).size(),
                        (asked, at) -> asked.look(at + below).modified(),
                        (asked, at) -> asked.copy(at + below, own.resolve("copy"), 30),
                        (asked, at) -> {
                            try (InputStream stream = asked.open(at + below)) {
                                return new String(stream.readAllBytes());
                            }
                        }));
                for (int deepest = 1; deepest <= 4; deepest++) {
                    int depth = deepest;
                    GLOBS.forEach(glob -> questions.add((asked, at) -> asked.list(at + below, List.of(glob), depth)));
                }
                questions.forEach(question -> assertThat(answer(files, "/srv/plan", question))
                        .as("of '%s'", path)
                        .isEqualTo(answer(here, root, question)));
            }
        }
    }

    private static void fill(Path root, Path folder, int deep, Random random, List<String> paths) throws IOException {
        for (String name : NAMES) {
            Path each = folder.resolve(name);
            switch (random.nextInt(deep > 0 ? 5 : 3)) {
                case 0 -> {
                    Files.writeString(each, "x".repeat(random.nextInt(60)));
                    Files.setLastModifiedTime(
                            each, FileTime.from(Instant.ofEpochSecond(random.nextInt(2_000_000_000))));
                }
                case 1 -> Files.createSymbolicLink(each, Path.of(NAMES.get(random.nextInt(NAMES.size()))));
                case 2 -> {
                    continue;
                }
                default -> fill(root, Files.createDirectory(each), deep - 1, random, paths);
            }
            paths.add(root.relativize(each).toString());
        }
    }
}
