package org.gantrel.service.places;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import org.gantrel.service.places.Hands.Deed;
import org.gantrel.service.places.Hands.Entry;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("Work with files")
class HandsTest {

    /** Within the service, and through the program that does it as another account. */
    enum How {
        LOCAL,
        HELPER;

        Hands open(Reachable reach) throws IOException {
            return this == LOCAL ? new LocalHands(reach) : new HelperHands(List.of(), reach);
        }
    }

    @TempDir
    private Path temporary;

    private Path data;
    private Path srv;
    private Reachable anywhere;
    private Reachable team;

    @BeforeEach
    void lay() throws IOException {
        Path folder = temporary.toRealPath();
        data = Files.createDirectories(folder.resolve("data"));
        Files.writeString(data.resolve("key"), "the key");
        srv = Files.createDirectories(folder.resolve("srv/deep/er"));
        srv = folder.resolve("srv");
        Files.writeString(srv.resolve("a.csv"), "route;sold\n");
        Files.writeString(srv.resolve("deep/b.csv"), "b");
        Files.writeString(srv.resolve("deep/er/c.txt"), "c");
        Files.createSymbolicLink(srv.resolve("out"), data);
        Files.createSymbolicLink(srv.resolve("out.csv"), data.resolve("key"));
        Files.createSymbolicLink(srv.resolve("in.csv"), srv.resolve("a.csv"));
        Files.writeString(folder.resolve("beside"), "x");
        anywhere = Reachable.of(List.of(), data);
        team = Reachable.of(List.of(srv.toString()), data);
    }

    private static String text(Hands hands, Path file) throws IOException {
        try (InputStream stream = hands.open(file.toString())) {
            return new String(stream.readAllBytes(), StandardCharsets.UTF_8);
        }
    }

    private String below(String path) {
        return srv.resolve(path).toString();
    }

    @ParameterizedTest
    @EnumSource
    @DisplayName("lists, reads, moves, copies, packs and deletes, and keeps age and rights")
    void works(How how) throws IOException {
        Path old = srv.resolve("a.csv");
        Files.setLastModifiedTime(old, FileTime.from(Instant.parse("2026-01-01T00:00:00Z")));
        Files.setPosixFilePermissions(old, PosixFilePermissions.fromString("rw-r-----"));
        try (Hands hands = how.open(anywhere)) {
            assertThat(hands.list(srv.toString(), List.of("*.csv", "**/*.csv"), 20))
                    .extracting(Entry::path)
                    .containsExactly("a.csv", "deep/b.csv");
            assertThat(hands.list(srv.toString(), List.of("**"), 2))
                    .extracting(Entry::path)
                    .contains("deep/b.csv");
            assertThat(text(hands, old)).isEqualTo("route;sold\n");
            assertThat(text(hands, srv.resolve("in.csv"))).isEqualTo("route;sold\n");
            assertThat(hands.look(old.toString()).size()).isEqualTo(11);
            assertThat(hands.isFolder(below("deep"))).isTrue();
            assertThat(hands.isFolder(below("none"))).isFalse();
            hands.act(Deed.COPY, srv.toString(), "a.csv", below("copies/today"));
            Path copy = srv.resolve("copies/today/a.csv");
            assertThat(copy).hasContent("route;sold\n");
            assertThat(Files.getLastModifiedTime(copy).toInstant()).isEqualTo("2026-01-01T00:00:00Z");
            assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(copy)))
                    .isEqualTo("rw-r-----");
            hands.act(Deed.PUT_AWAY, srv.toString(), "a.csv", below("copies/today"));
            assertThat(srv.resolve("copies/today/a.csv.2")).exists();
            hands.act(Deed.MOVE, srv.toString(), "deep/b.csv", below("moved"));
            assertThat(srv.resolve("moved/deep/b.csv")).hasContent("b");
            hands.act(Deed.COMPRESS, srv.toString(), "deep/er/c.txt", "");
            try (var packed = new GZIPInputStream(Files.newInputStream(srv.resolve("deep/er/c.txt.gz")))) {
                assertThat(packed.readAllBytes()).containsExactly('c');
            }
            hands.act(Deed.DELETE, srv.toString(), "deep/er/c.txt.gz", "");
            try (Stream<Path> left = Files.list(srv.resolve("deep/er"))) {
                assertThat(left).isEmpty();
            }
        }
    }

    @ParameterizedTest
    @EnumSource
    @DisplayName(
            "reaches neither the service's data nor the kernel's files, by whatever way, and says not what is there")
    void neverReaches(How how) throws IOException {
        try (Hands hands = how.open(anywhere)) {
            for (String way : List.of(
                    data.resolve("key").toString(),
                    data.resolve("none").toString(),
                    below("out.csv"),
                    below("out/key"),
                    "/proc/self/environ",
                    "/proc/self/root" + data.resolve("key"),
                    "/sys/kernel/notes",
                    "/dev/stdin",
                    below("../data/key"),
                    "relative")) {
                assertThatThrownBy(() -> hands.look(way)).as(way).isInstanceOf(NotReachable.class);
                assertThatThrownBy(() -> hands.open(way)).as(way).isInstanceOf(NotReachable.class);
            }
            assertThat(hands.list(srv.getParent().toString(), List.of("**"), 20))
                    .noneMatch(entry -> entry.path().contains("key"));
            assertThatThrownBy(() -> hands.list(data.toString(), List.of("**"), 20))
                    .isInstanceOf(NotReachable.class);
            assertThatThrownBy(() -> hands.act(Deed.MOVE, srv.toString(), "a.csv", below("out")))
                    .isInstanceOf(NotReachable.class);
            assertThatThrownBy(() -> hands.act(
                            Deed.COPY,
                            srv.toString(),
                            "a.csv",
                            data.resolve("new").toString()))
                    .isInstanceOf(NotReachable.class);
            assertThatThrownBy(() -> hands.act(Deed.DELETE, srv.toString(), "../data/key", ""))
                    .isInstanceOf(NotReachable.class);
            assertThatThrownBy(() -> hands.open(below("none"))).isInstanceOf(NoSuchFileException.class);
            assertThatThrownBy(() -> hands.open(below("deep"))).isInstanceOf(NoSuchFileException.class);
        }
        assertThat(data.resolve("key")).hasContent("the key");
    }

    @ParameterizedTest
    @ValueSource(strings = {"beside", "data/key", "none"})
    @DisplayName("stays within the folders that are listed for the team")
    void staysWithin(String other) throws IOException {
        try (Hands hands = How.LOCAL.open(team)) {
            assertThat(text(hands, srv.resolve("a.csv"))).isNotEmpty();
            assertThatThrownBy(() -> hands.look(srv.resolveSibling(other).toString()))
                    .isInstanceOf(NotReachable.class);
        }
    }

    @Test
    @DisplayName("is not led astray by a folder that becomes a link while it goes on")
    void swapping() throws Exception {
        Path folder = srv.resolve("swapped");
        Path real = Files.createDirectory(srv.resolve("real"));
        Files.writeString(real.resolve("key"), "harmless");
        Path link = Files.createSymbolicLink(srv.resolve("link"), data);
        Files.createDirectory(folder);
        Files.writeString(folder.resolve("key"), "harmless");
        var over = new AtomicBoolean();
        var swapper = new Thread(() -> {
            try {
                while (!over.get()) {
                    Files.move(folder, srv.resolve("away"), StandardCopyOption.ATOMIC_MOVE);
                    Files.move(link, folder, StandardCopyOption.ATOMIC_MOVE);
                    Files.move(folder, link, StandardCopyOption.ATOMIC_MOVE);
                    Files.move(srv.resolve("away"), folder, StandardCopyOption.ATOMIC_MOVE);
                }
            } catch (IOException e) {
                over.set(true);
            }
        });
        swapper.start();
        int read = 0;
        try (Hands hands = How.LOCAL.open(anywhere)) {
            for (int i = 0; i < 4_000; i++) {
                try {
                    assertThat(text(hands, folder.resolve("key"))).isEqualTo("harmless");
                    read++;
                } catch (IOException e) {
                    // it was a link just then, or not there
                    continue;
                }
            }
        } finally {
            over.set(true);
            swapper.join();
        }
        assertThat(read).isPositive();
    }
}
