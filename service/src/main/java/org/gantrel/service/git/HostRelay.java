package org.gantrel.service.git;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.TimeUnit;

/** Carries what a {@link GitProgram} and a program on another host say to each other. */
final class HostRelay implements AutoCloseable {

    private static final int PIECE = 32_000;
    private static final int WAITING = 500;
    private static final long SOON_MILLIS = 2_000;

    private final Process there;
    private final Talk talk;
    private final BlockingQueue<byte[]> told = new ArrayBlockingQueue<>(WAITING);
    private final List<Thread> carriers;

    HostRelay(Process there, Talk talk) {
        this.there = there;
        this.talk = talk;
        Thread errors = carrier("errors", () -> carry(there.getErrorStream(), Talk.ERROR));
        carriers = List.of(
                errors,
                carrier("said", () -> {
                    carry(there.getInputStream(), Talk.DATA);
                    errors.join();
                    there.waitFor(SOON_MILLIS, TimeUnit.MILLISECONDS);
                    talk.say(Talk.ENDED, String.valueOf(code()));
                }),
                carrier("told", this::tell));
    }

    private interface Work {
        void run() throws IOException, InterruptedException;
    }

    private static Thread carrier(String name, Work work) {
        var thread = new Thread(
                () -> {
                    try {
                        work.run();
                    } catch (IOException e) {
                        // one of the two has gone, which the other is told by its end
                    } catch (InterruptedException e) {
                        Thread.currentThread().interrupt();
                    }
                },
                "git-host-" + name);
        thread.setDaemon(true);
        thread.start();
        return thread;
    }

    private void carry(InputStream from, char kind) throws IOException {
        byte[] piece = new byte[PIECE];
        for (int read; (read = from.read(piece)) >= 0; ) {
            talk.say(kind, piece, 0, read);
        }
    }

    private void tell() throws IOException, InterruptedException {
        OutputStream stream = there.getOutputStream();
        while (true) {
            stream.write(told.take());
            if (told.isEmpty()) {
                stream.flush();
            }
        }
    }

    private int code() {
        try {
            return there.exitValue();
        } catch (IllegalThreadStateException e) {
            return 1;
        }
    }

    /** Has the other side told; comes back false where it does not listen for now. */
    boolean tell(byte[] bytes, long millis) throws InterruptedException {
        return told.offer(Arrays.copyOf(bytes, bytes.length), millis, TimeUnit.MILLISECONDS);
    }

    /** Ends it, and the program there. */
    @Override
    public void close() {
        there.destroy();
        carriers.get(carriers.size() - 1).interrupt();
    }

    /** Whether nothing is carried any more. */
    boolean isOver() throws InterruptedException {
        for (Thread each : carriers) {
            each.join(SOON_MILLIS);
        }
        return carriers.stream().noneMatch(Thread::isAlive);
    }
}
