package org.gantrel.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyPair;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.config.keys.PublicKeyEntry;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.forward.AcceptAllForwardingFilter;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;
import org.apache.sshd.server.session.ServerSession;
import org.apache.sshd.server.shell.ProcessShellFactory;
import org.apache.sshd.sftp.server.Handle;
import org.apache.sshd.sftp.server.SftpEventListener;
import org.apache.sshd.sftp.server.SftpSubsystemFactory;

/** A host at the harbour that lets its night watch in by SSH and runs what it is told, on the loopback address only. */
public final class HarbourHost implements AutoCloseable {

    /** Who may sign in. */
    public static final String USER = "night";

    private final SshServer server = SshServer.setUpDefaultServer();
    private final Set<Path> fetched = ConcurrentHashMap.newKeySet();

    /**
     * Starts it.
     *
     * @param port the port; 0 lets the machine choose
     * @param home the folder that commands begin in and take for their home
     * @param hostKey the file of its key, made where there is none; its public part lies beside it as {@code .pub}
     */
    public HarbourHost(int port, Path home, Path hostKey, String password) throws IOException {
        Files.createDirectories(home);
        server.setHost("127.0.0.1");
        server.setPort(port);
        var keys = new SimpleGeneratorHostKeyProvider(hostKey);
        keys.setAlgorithm(KeyUtils.EC_ALGORITHM);
        keys.setKeySize(256);
        server.setKeyPairProvider(keys);
        server.setPasswordAuthenticator((user, given, session) -> user.equals(USER) && given.equals(password));
        server.setForwardingFilter(AcceptAllForwardingFilter.INSTANCE);
        var files = new SftpSubsystemFactory();
        files.addSftpEventListener(new SftpEventListener() {
            @Override
            public void open(ServerSession session, String handle, Handle opened) {
                fetched.add(opened.getFile());
            }
        });
        server.setSubsystemFactories(List.of(files));
        String surroundings = "export HOME=%s XDG_STATE_HOME=%s; cd \"$HOME\"; "
                .formatted(quote(home.toString()), quote(home.resolve("state").toString()));
        server.setCommandFactory((channel, line) ->
                new ProcessShellFactory(surroundings + line, surroundings + line).createShell(channel));
        KeyPair pair = keys.loadKeys(null).iterator().next();
        Files.writeString(
                hostKey.resolveSibling(hostKey.getFileName() + ".pub"),
                PublicKeyEntry.toString(pair.getPublic()) + "\n");
        server.start();
    }

    private static String quote(String path) {
        return "'" + path.replace("'", "'\\''") + "'";
    }

    /** What was read of its files from elsewhere, by SFTP: folders and files. */
    public Set<Path> fetched() {
        return Set.copyOf(fetched);
    }

    public int port() {
        return server.getPort();
    }

    /** Cuts every connection, as a bad line does. */
    public void drop() {
        server.getActiveSessions().forEach(session -> session.close(true));
    }

    @Override
    public void close() throws IOException {
        server.stop(true);
    }
}
