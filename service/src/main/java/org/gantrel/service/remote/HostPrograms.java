package org.gantrel.service.remote;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.time.Duration;
import java.util.EnumSet;
import java.util.concurrent.TimeUnit;
import org.apache.sshd.client.channel.ChannelExec;
import org.apache.sshd.client.channel.ClientChannelEvent;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.springframework.stereotype.Component;

/** Starts programs on other hosts that speak with their caller by their input and output. */
@Component
public class HostPrograms {

    private final RemoteHosts hosts;

    HostPrograms(RemoteHosts hosts) {
        this.hosts = hosts;
    }

    /**
     * Starts a program.
     *
     * @param on the host, by a credential of the kind {@code ssh}
     * @param line read by the account's own shell there
     * @return ends, and gives the host back, when it is destroyed
     */
    public Process start(Credential on, String line) throws IOException, InterruptedException {
        if (on.kind() != CredentialKind.SSH) {
            throw new IOException("'" + on.name() + "' is no host: a credential of the kind ssh would be");
        }
        RemoteHost host = hosts.take(on);
        try {
            return new OnHost(host.start(line), () -> {
                host.closed();
                hosts.giveBack(on);
            });
        } catch (IOException | InterruptedException | RuntimeException e) {
            hosts.giveBack(on);
            throw e;
        }
    }

    /** A program on a host, as one of this host would be seen. */
    private static final class OnHost extends Process {

        private final ChannelExec channel;
        private final Runnable done;
        private boolean given;

        OnHost(ChannelExec channel, Runnable done) {
            this.channel = channel;
            this.done = done;
        }

        @Override
        public OutputStream getOutputStream() {
            return channel.getInvertedIn();
        }

        @Override
        public InputStream getInputStream() {
            return channel.getInvertedOut();
        }

        @Override
        public InputStream getErrorStream() {
            return channel.getInvertedErr();
        }

        @Override
        public int waitFor() {
            channel.waitFor(EnumSet.of(ClientChannelEvent.CLOSED), Duration.ZERO);
            return exitValue();
        }

        @Override
        public boolean waitFor(long timeout, TimeUnit unit) {
            return channel.waitFor(EnumSet.of(ClientChannelEvent.CLOSED), Duration.of(timeout, unit.toChronoUnit()))
                    .contains(ClientChannelEvent.CLOSED);
        }

        @Override
        public int exitValue() {
            if (channel.getExitStatus() == null) {
                throw new IllegalThreadStateException("it has not ended");
            }
            return channel.getExitStatus();
        }

        @Override
        public synchronized void destroy() {
            if (!given) {
                given = true;
                channel.close(true);
                done.run();
            }
        }
    }
}
