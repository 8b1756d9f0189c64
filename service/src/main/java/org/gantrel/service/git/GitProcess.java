package org.gantrel.service.git;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import org.gantrel.service.beside.Beginning;
import org.gantrel.service.beside.Beside;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** A process that works on copies of repositories, one thing at a time. What it takes of memory, it takes from nobody else. */
final class GitProcess implements AutoCloseable {

    /** The most memory that it may take for what it reads, in MB. */
    static final int MEMORY = 256;

    private static final Logger LOG = LoggerFactory.getLogger(GitProcess.class);
    private static final long LOOKS_MILLIS = 50;
    private static final long ENDS_SECONDS = 5;
    private static final int WAITING_FRAMES = 16;

    private final Process process;
    private final Beginning beginning;
    private final Talk talk;
    private final BlockingQueue<Talk.Frame> heard = new ArrayBlockingQueue<>(WAITING_FRAMES);
    private boolean used;

    /** Starts a program on another host. */
    interface Host {
        Process start(String line) throws IOException, InterruptedException;
    }

    /** It has ended before it answered. */
    static final class Gone extends IOException {
        private static final long serialVersionUID = 1L;
        private final boolean outOfMemory;

        Gone(boolean outOfMemory) {
            super("the process for repositories has ended");
            this.outOfMemory = outOfMemory;
        }

        /** Whether what it read was too large for it. */
        boolean isOutOfMemory() {
            return outOfMemory;
        }
    }

    /** There is no time left, or nobody wants it any more. */
    static final class Late extends IOException {
        private static final long serialVersionUID = 1L;

        Late() {
            super("there was not enough time");
        }
    }

    GitProcess(Path temporary) throws IOException {
        Beside.Started started = Beside.start(
                GitProgram.class, MEMORY, temporary, List.of("-Dsun.net.http.allowRestrictedHeaders=true"));
        process = started.process();
        beginning = started.beginning();
        talk = new Talk(
                new BufferedInputStream(process.getInputStream()), new BufferedOutputStream(process.getOutputStream()));
        var ear = new Thread(this::listen, "git-" + process.pid());
        ear.setDaemon(true);
        ear.start();
    }

    private void listen() {
        try {
            for (Talk.Frame next; (next = talk.hear()) != null; ) {
                beginning.over();
                heard.put(next);
            }
        } catch (IOException e) {
            LOG.debug("{} has gone", process.pid(), e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } finally {
            beginning.over();
        }
    }

    /** Whether it has done something before. */
    boolean isUsed() {
        return used;
    }

    boolean isAlive() {
        return process.isAlive();
    }

    /**
     * Has something done.
     *
     * @param late whether there is no time left; it is of no use afterwards
     */
    Talk.Answer ask(Talk.Ask ask, Host host, BooleanSupplier late) throws IOException, InterruptedException {
        try {
            talk.say(Talk.ASK, ask);
        } catch (IOException e) {
            throw gone();
        }
        HostRelay relay = null;
        try {
            while (true) {
                if (late.getAsBoolean()) {
                    throw new Late();
                }
                Talk.Frame next = heard.poll(LOOKS_MILLIS, TimeUnit.MILLISECONDS);
                if (next == null && !process.isAlive() && heard.isEmpty()) {
                    throw gone();
                }
                switch (next == null ? ' ' : next.kind()) {
                    case Talk.ANSWER -> {
                        used = true;
                        return next.as(Talk.Answer.class);
                    }
                    case Talk.RUN -> {
                        end(relay);
                        relay = new HostRelay(host.start(next.text()), talk);
                    }
                    case Talk.DATA -> tell(relay, next.bytes(), late);
                    case Talk.ENDED -> {
                        end(relay);
                        relay = null;
                    }
                    default -> {
                        // it works on
                    }
                }
            }
        } finally {
            end(relay);
        }
    }

    private static void tell(HostRelay relay, byte[] bytes, BooleanSupplier late)
            throws IOException, InterruptedException {
        while (relay != null && !relay.tell(bytes, LOOKS_MILLIS)) {
            if (late.getAsBoolean()) {
                throw new Late();
            }
        }
    }

    private void end(HostRelay relay) throws InterruptedException {
        if (relay != null) {
            relay.close();
            if (!relay.isOver()) {
                // what it still says would be taken for a part of what comes next
                close();
            }
        }
    }

    /** Ends it, whatever it does. */
    @Override
    public void close() {
        try {
            process.destroyForcibly().waitFor(ENDS_SECONDS, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private Gone gone() throws InterruptedException {
        if (!process.waitFor(1, TimeUnit.SECONDS)) {
            return new Gone(false);
        }
        int code = process.exitValue();
        if (code != 0 && code != Beside.OUT_OF_MEMORY) {
            LOG.warn("the process {} for repositories has ended with exit code {}", process.pid(), code);
        }
        return new Gone(code == Beside.OUT_OF_MEMORY);
    }
}
