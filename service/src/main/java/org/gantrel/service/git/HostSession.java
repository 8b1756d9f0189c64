package org.gantrel.service.git;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PipedInputStream;
import java.io.PipedOutputStream;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.eclipse.jgit.transport.CredentialsProvider;
import org.eclipse.jgit.transport.RemoteSession;
import org.eclipse.jgit.transport.SshSessionFactory;
import org.eclipse.jgit.transport.URIish;
import org.eclipse.jgit.util.FS;

/** Has the programs of the other side started by the service, which holds the connection to that host. */
final class HostSession extends SshSessionFactory {

    private static final int PIPE = 100_000;

    private final Talk talk;
    private volatile Remote running;

    HostSession(Talk talk) {
        this.talk = talk;
    }

    /** What the service says of the program that runs there. */
    void hear(Talk.Frame frame) throws IOException {
        Remote remote = running;
        if (remote != null) {
            remote.hear(frame);
        }
    }

    @Override
    public RemoteSession getSession(URIish address, CredentialsProvider asked, FS fs, int millis) {
        return new RemoteSession() {
            @Override
            public Process exec(String line, int seconds) throws IOException {
                running = new Remote();
                talk.say(Talk.RUN, line);
                return running;
            }

            @Override
            public void disconnect() {
                // each program gives its connection back
            }
        };
    }

    @Override
    public String getType() {
        return "gantrel";
    }

    /** A program on the other host, as one of this host would be seen. */
    private final class Remote extends Process {

        private final PipedInputStream said = new PipedInputStream(PIPE);
        private final PipedOutputStream saying;
        private final PipedInputStream errors = new PipedInputStream(PIPE);
        private final PipedOutputStream erring;
        private final CompletableFuture<Integer> code = new CompletableFuture<>();

        Remote() throws IOException {
            saying = new PipedOutputStream(said);
            erring = new PipedOutputStream(errors);
        }

        void hear(Talk.Frame frame) {
            try {
                switch (frame.kind()) {
                    case Talk.DATA -> {
                        saying.write(frame.bytes());
                        saying.flush();
                    }
                    case Talk.ERROR -> {
                        erring.write(frame.bytes());
                        erring.flush();
                    }
                    default -> {
                        code.complete(Integer.parseInt(frame.text()));
                        saying.close();
                        erring.close();
                    }
                }
            } catch (IOException e) {
                // nobody reads it any more
            }
        }

        @Override
        public OutputStream getOutputStream() {
            return new OutputStream() {
                @Override
                public void write(int one) throws IOException {
                    talk.say(Talk.DATA, new byte[] {(byte) one});
                }

                @Override
                public void write(byte[] bytes, int from, int length) throws IOException {
                    talk.say(Talk.DATA, bytes, from, length);
                }
            };
        }

        @Override
        public InputStream getInputStream() {
            return said;
        }

        @Override
        public InputStream getErrorStream() {
            return errors;
        }

        @Override
        public int waitFor() throws InterruptedException {
            try {
                return code.get();
            } catch (ExecutionException e) {
                throw new IllegalStateException(e);
            }
        }

        @Override
        public boolean waitFor(long time, TimeUnit unit) throws InterruptedException {
            try {
                code.get(time, unit);
                return true;
            } catch (TimeoutException e) {
                return false;
            } catch (ExecutionException e) {
                throw new IllegalStateException(e);
            }
        }

        @Override
        public int exitValue() {
            if (!code.isDone()) {
                throw new IllegalThreadStateException("it has not ended");
            }
            return code.join();
        }

        @Override
        public void destroy() {
            running = null;
            try {
                said.close();
                errors.close();
                talk.say(Talk.ENDED, "");
            } catch (IOException e) {
                // the service has gone, and this process goes too
            }
        }
    }
}
