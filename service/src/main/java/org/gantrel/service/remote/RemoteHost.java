package org.gantrel.service.remote;

import java.io.IOException;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.Set;
import java.util.concurrent.Semaphore;
import org.apache.sshd.client.channel.ChannelDirectTcpip;
import org.apache.sshd.client.channel.ChannelExec;
import org.apache.sshd.client.channel.ClientChannelEvent;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.SshConstants;
import org.apache.sshd.common.util.buffer.Buffer;
import org.apache.sshd.common.util.net.SshdSocketAddress;
import org.gantrel.core.credential.Credential;
import org.gantrel.service.durable.Transactions;

/** Another host and one connection to it, which all runs there share and which is made again when it is lost. */
final class RemoteHost {

    /** OpenSSH lets ten channels of a connection be open where nobody says otherwise (sshd_config(5), MaxSessions). */
    private static final int MOST_CHANNELS = 9;

    /** Looking through folders keeps some channels open at once: one for a listing and one for each file in hand. */
    private static final int CHANNELS_FOR_FILES = 3;

    /** What takes long leaves some to what is short: a run must be told of a stop while others bring their files. */
    private static final int MOST_LASTING = 6;

    private static final String MARK = "gantrel:answer";

    /** More than is ever asked for at once of a log; start-up files of an account may say something before it. */
    static final int SHORT_ANSWER = 1_000_000;

    private static final int MOST_ERRORS = 20_000;

    private static final Duration PATIENCE = Duration.ofSeconds(20);
    private static final Duration LOOK = Duration.ofSeconds(5);

    /** Whatever the answer is (RFC 4254, 4), it is one. */
    private static final String ALIVE = "keepalive@openssh.com";

    /** Makes a connection and signs in. */
    @FunctionalInterface
    interface Connector {
        ClientSession connect(Credential credential) throws IOException;
    }

    /** Something that is done with a host's files. */
    @FunctionalInterface
    interface Work<T> {
        T on(RemoteFiles files) throws IOException;
    }

    /** What a script left. */
    record Answer(int code, byte[] output, String errors) {
        String text() {
            return new String(output, StandardCharsets.UTF_8).strip();
        }
    }

    private final Credential credential;
    private final Connector connector;
    private final Duration patience;
    private final Semaphore channels = new Semaphore(MOST_CHANNELS, true);
    private final Semaphore lasting = new Semaphore(MOST_LASTING, true);
    private ClientSession session;
    private int users;

    RemoteHost(Credential credential, Connector connector) {
        this(credential, connector, PATIENCE);
    }

    /** @param patience how long the answer of a script is waited for */
    RemoteHost(Credential credential, Connector connector, Duration patience) {
        this.patience = patience;
        this.credential = credential;
        this.connector = connector;
    }

    /** One more uses it. */
    RemoteHost taken() {
        users++;
        return this;
    }

    /** One fewer uses it; says whether that was the last. */
    boolean givenBack() {
        return --users == 0;
    }

    /** Has the host's shell read a script to its end; a few lines are its answer. */
    Answer run(String script) throws IOException, InterruptedException {
        return run(Script.of(script), SHORT_ANSWER);
    }

    /**
     * Has the host's shell read a script to its end.
     *
     * @param most how many bytes its answer may have
     */
    Answer run(Script script, int most) throws IOException, InterruptedException {
        channels.acquire();
        // whatever the account's own shell is, a POSIX shell reads the script
        try (ChannelExec channel = session().createExecChannel("exec /bin/sh -s");
                InputStream lines =
                        new SequenceInputStream(Script.of("echo " + MARK + "\n").open(), script.open())) {
            var output = new Held(most, () -> channel.close(true));
            var errors = new Held(MOST_ERRORS, () -> {});
            channel.setIn(lines);
            channel.setOut(output);
            channel.setErr(errors);
            channel.open().verify(PATIENCE);
            Set<ClientChannelEvent> events = channel.waitFor(EnumSet.of(ClientChannelEvent.CLOSED), patience);
            if (output.isOver()) {
                throw new IOException(host() + " says more than " + most + " bytes where a short answer is read; what"
                        + " start-up files of the account print counts");
            }
            if (events.contains(ClientChannelEvent.TIMEOUT)) {
                channel.close(true);
                if (!isAlive()) {
                    // a connection that swallows what it is given may be dead for long
                    close();
                }
                throw new IOException(host() + " does not answer");
            }
            if (channel.getExitStatus() == null) {
                throw new IOException("the connection to " + host() + " was lost");
            }
            return new Answer(
                    channel.getExitStatus(),
                    afterMark(output.toByteArray()),
                    errors.toString(StandardCharsets.UTF_8).strip());
        } catch (IllegalStateException e) {
            throw lost(e);
        } finally {
            channels.release();
        }
    }

    /** How the library tells of a connection that is being closed while something is asked of it. */
    private IOException lost(IllegalStateException closing) {
        return new IOException("the connection to " + host() + " was lost", closing);
    }

    /** The same for whoever can wait: a question that hangs there does not keep runs from being followed. */
    Answer ask(Script script, int most) throws IOException, InterruptedException {
        lasting.acquire();
        try {
            return run(script, most);
        } finally {
            lasting.release();
        }
    }

    /** Whether the connection itself answers, whatever hangs on the host; others use it too. */
    private boolean isAlive() {
        ClientSession used = known();
        if (used == null) {
            return false;
        }
        try {
            Buffer question = used.createBuffer(SshConstants.SSH_MSG_GLOBAL_REQUEST);
            question.putString(ALIVE);
            question.putBoolean(true);
            used.request(ALIVE, question, LOOK);
            return true;
        } catch (IOException e) {
            return false;
        }
    }

    private synchronized ClientSession known() {
        return session;
    }

    /** What a script printed; an account's own start-up files may have printed something before it. */
    static byte[] afterMark(byte[] output) {
        byte[] mark = (MARK + "\n").getBytes(StandardCharsets.UTF_8);
        for (int i = 0; i + mark.length <= output.length; i++) {
            if (Arrays.equals(output, i, i + mark.length, mark, 0, mark.length)) {
                return Arrays.copyOfRange(output, i + mark.length, output.length);
            }
        }
        return output;
    }

    /** A connection from the host to an address; whoever asked for it says when it is {@link #closed}. */
    ChannelDirectTcpip open(String target, int port) throws IOException, InterruptedException {
        begins(1);
        try {
            ChannelDirectTcpip channel = session()
                    .createDirectTcpipChannel(SshdSocketAddress.LOCALHOST_ADDRESS, new SshdSocketAddress(target, port));
            channel.open().verify(PATIENCE);
            return channel;
        } catch (IllegalStateException e) {
            closed();
            throw lost(e);
        } catch (IOException | RuntimeException e) {
            closed();
            throw e;
        }
    }

    /** Starts a program that speaks by its input and output; whoever asked for it says when it is {@link #closed}. */
    ChannelExec start(String line) throws IOException, InterruptedException {
        begins(1);
        try {
            ChannelExec channel = session().createExecChannel(line);
            channel.open().verify(PATIENCE);
            return channel;
        } catch (IllegalStateException e) {
            closed();
            throw lost(e);
        } catch (IOException | RuntimeException e) {
            closed();
            throw e;
        }
    }

    void closed() {
        ends(1);
    }

    private void begins(int many) throws InterruptedException {
        assert Transactions.none() : "another system is asked in a transaction";
        lasting.acquire(many);
        try {
            channels.acquire(many);
        } catch (InterruptedException e) {
            lasting.release(many);
            throw e;
        }
    }

    private void ends(int many) {
        channels.release(many);
        lasting.release(many);
    }

    /** Does something with its files. */
    <T> T withFiles(Work<T> work) throws IOException, InterruptedException {
        begins(CHANNELS_FOR_FILES);
        try (RemoteFiles files = new RemoteFiles(session())) {
            return work.on(files);
        } catch (IllegalStateException e) {
            throw lost(e);
        } finally {
            ends(CHANNELS_FOR_FILES);
        }
    }

    String host() {
        return credential.fact("host");
    }

    private synchronized ClientSession session() throws IOException {
        if (session == null || !session.isOpen()) {
            session = connector.connect(credential);
        }
        return session;
    }

    synchronized void close() {
        if (session != null) {
            session.close(true);
        }
    }
}
