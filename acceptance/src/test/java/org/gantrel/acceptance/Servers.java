package org.gantrel.acceptance;

import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.stream.Stream;

/** Real servers from the machine's own packages, in a folder of their own, on the loopback address. */
final class Servers {

    private Servers() {}

    /** A server that is up. */
    record Server(Process process, int port, Path folder) implements AutoCloseable {
        String text(String file) {
            try {
                return Files.readString(folder.resolve(file)).strip();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }

        /** What a credential says of it, where it is a host. */
        Map<String, String> facts() {
            return Map.of(
                    "host", "127.0.0.1",
                    "port", String.valueOf(port),
                    "user", System.getProperty("user.name"),
                    "host-key", text("host-rsa.pub"));
        }

        @Override
        public void close() {
            process.destroy();
        }
    }

    static Optional<Path> openSsh() {
        return Optional.of(Path.of("/usr/sbin/sshd")).filter(Files::isExecutable);
    }

    /** Where PostgreSQL's programs are. */
    static Optional<Path> postgreSql() {
        try (Stream<Path> versions = Files.list(Path.of("/usr/lib/postgresql"))) {
            return versions.map(version -> version.resolve("bin"))
                    .filter(bin -> Files.isExecutable(bin.resolve("initdb")))
                    .findFirst();
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    static boolean isRoot() {
        return "root".equals(System.getProperty("user.name"));
    }

    /** OpenSSH's server, which lets this test's own account in with the key in {@code user}, sealed by a passphrase. */
    static Server startOpenSsh(String passphrase) throws IOException {
        Path folder = folder();
        run(List.of("ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", folder + "/host"));
        run(List.of("ssh-keygen", "-q", "-t", "rsa", "-b", "2048", "-N", "", "-f", folder + "/host-rsa"));
        run(List.of("ssh-keygen", "-q", "-t", "ed25519", "-N", passphrase, "-f", folder + "/user"));
        if (isRoot()) {
            Files.createDirectories(Path.of("/run/sshd"));
        }
        int port = freePort();
        Files.writeString(
                folder.resolve("config"),
                """
                Port %d
                ListenAddress 127.0.0.1
                HostKey %s/host
                HostKey %s/host-rsa
                AuthorizedKeysFile %s/user.pub
                StrictModes no
                UsePAM no
                PasswordAuthentication no
                PermitRootLogin prohibit-password
                PidFile none
                SetEnv XDG_STATE_HOME=%s/state
                Subsystem sftp internal-sftp
                """
                        .formatted(port, folder, folder, folder, folder));
        return startOpenSsh(folder, port);
    }

    private static Server startOpenSsh(Path folder, int port) throws IOException {
        return start(List.of("/usr/sbin/sshd", "-D", "-e", "-f", folder + "/config"), folder, port, "Server listening");
    }

    /** Cuts all connections to a host, lets none in until something holds, and starts its server again. */
    static Server away(Server openSsh, BooleanSupplier longEnough) throws IOException {
        List<ProcessHandle> all = Stream.concat(Stream.of(openSsh.process.toHandle()), openSsh.process.descendants())
                .filter(each -> each.info().command().orElse("").contains("sshd"))
                .toList();
        all.forEach(ProcessHandle::destroyForcibly);
        Await.until("it is away", () -> all.stream().noneMatch(ProcessHandle::isAlive));
        Await.until("it was away for a while", longEnough::getAsBoolean);
        return startOpenSsh(openSsh.folder, openSsh.port);
    }

    /** A PostgreSQL server with the account settle, who has a password. It refuses to be root. */
    static Server startPostgreSql(Path bin, String password) throws IOException {
        Path folder = folder();
        int port = freePort();
        var as = new ArrayList<String>();
        if (isRoot()) {
            as.addAll(List.of("setpriv", "--reuid=nobody", "--regid=nogroup", "--clear-groups"));
            run(List.of("chown", "nobody:nogroup", folder.toString()));
        }
        Files.writeString(folder.resolve("password"), password);
        var create = new ArrayList<>(as);
        create.addAll(List.of(
                bin + "/initdb",
                "-D",
                folder + "/data",
                "-U",
                "settle",
                "-A",
                "scram-sha-256",
                "--pwfile",
                folder + "/password",
                "-E",
                "UTF8",
                "--no-sync"));
        run(create);
        var line = new ArrayList<>(as);
        line.addAll(List.of(
                bin + "/postgres",
                "-D",
                folder + "/data",
                "-p",
                String.valueOf(port),
                "-k",
                folder.toString(),
                "-c",
                "listen_addresses=127.0.0.1"));
        return start(line, folder, port, "database system is ready");
    }

    private static Path folder() throws IOException {
        Path folder = Files.createTempDirectory("server");
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
        return folder;
    }

    private static int freePort() throws IOException {
        try (var socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return socket.getLocalPort();
        }
    }

    private static Server start(List<String> line, Path folder, int port, String ready) throws IOException {
        File said = folder.resolve("said").toFile();
        Process process = new ProcessBuilder(line)
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .redirectOutput(said)
                .start();
        var server = new Server(process, port, folder);
        Await.until(line.get(0) + " is up: " + server.text("said"), () -> server.text("said")
                .contains(ready));
        return server;
    }

    private static void run(List<String> line) throws IOException {
        Process process = new ProcessBuilder(line).redirectErrorStream(true).start();
        String said = new String(process.getInputStream().readAllBytes());
        try {
            if (process.waitFor() != 0) {
                throw new IOException(String.join(" ", line) + ": " + said);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new AssertionError("interrupted", e);
        }
    }
}
