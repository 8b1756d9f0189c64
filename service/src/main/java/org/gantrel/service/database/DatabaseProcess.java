package org.gantrel.service.database;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicInteger;
import org.gantrel.core.text.Words;
import org.gantrel.service.beside.Beginning;
import org.gantrel.service.beside.Beside;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** A process that works on databases, as the service asks it: many may ask at the same time. */
final class DatabaseProcess implements AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(DatabaseProcess.class);
    private static final int MOST_USUALLY = 4 << 20;
    private static final long ENDS_SECONDS = 5;
    private static final String LEFT = "it was stopped before the database had answered";
    private static final String ENDED = "the process that works on this database has ended";

    private final Process process;
    private final Beginning beginning;
    private final int memory;
    private final DataOutputStream out;
    private final Map<Integer, Asked> asked = new ConcurrentHashMap<>();
    private final AtomicInteger last = new AtomicInteger();
    private final AtomicInteger sessions = new AtomicInteger();
    private volatile boolean over;
    private int open;
    private long freeSince = System.nanoTime();

    /** Something that waits for its answer. @param most how many bytes that may have */
    private record Asked(int session, CompletableFuture<ByteBuffer> answer, int most) {}

    /** Nobody waits for the answers of a connection any more. */
    private static final class Left extends RuntimeException {
        private static final long serialVersionUID = 1L;
    }

    /** A connection is of no use any more. */
    static class Lost extends SQLException {
        private static final long serialVersionUID = 1L;

        private Lost(String why) {
            // SQL:2016, class 08: the connection failed
            super(why, "08006");
        }
    }

    /** It has ended, and with it all connections that it had. */
    static final class Gone extends Lost {
        private static final long serialVersionUID = 1L;

        private Gone(String why) {
            super(why);
        }
    }

    /** @param memory the most that it may take for what databases answer, in MB */
    DatabaseProcess(Path temporary, int memory) throws IOException {
        this.memory = memory;
        Beside.Started started = Beside.start(DatabaseProgram.class, memory, temporary, List.of());
        process = started.process();
        beginning = started.beginning();
        out = new DataOutputStream(new BufferedOutputStream(process.getOutputStream()));
        var ear = new Thread(this::listen, "databases-" + process.pid());
        ear.setDaemon(true);
        ear.start();
    }

    private void listen() {
        try (var in = new DataInputStream(new BufferedInputStream(process.getInputStream()))) {
            while (true) {
                int length = in.readInt() - Integer.BYTES;
                beginning.over();
                Asked waits = asked.remove(in.readInt());
                if (waits == null) {
                    // nobody waits for it any more
                    in.skipNBytes(Math.max(0, length));
                    continue;
                }
                if (length < 1 || length > waits.most()) {
                    throw new IOException("an answer of " + length + " bytes");
                }
                byte[] bytes = new byte[length];
                in.readFully(bytes);
                waits.answer().complete(ByteBuffer.wrap(bytes));
            }
        } catch (IOException e) {
            LOG.debug("the process {} for databases is heard no longer", process.pid(), e);
        } finally {
            over = true;
            beginning.over();
            process.destroyForcibly();
            asked.values().forEach(each -> each.answer().cancel(false));
        }
    }

    boolean isAlive() {
        return !over && process.isAlive();
    }

    /** A number for a connection that is to be opened. */
    int session() {
        return sessions.incrementAndGet();
    }

    synchronized void opens() {
        open++;
    }

    synchronized void closes() {
        open--;
        freeSince = System.nanoTime();
    }

    synchronized int open() {
        return open;
    }

    /** Whether it has had no connection for so long. */
    synchronized boolean isFree(long nanos) {
        return open == 0 && System.nanoTime() - freeSince >= nanos;
    }

    /**
     * Asks something of an object, and waits for what comes of it.
     *
     * @param patience how long
     */
    Object ask(Duration patience, int session, int target, String what, Object... given) throws SQLException {
        ByteBuffer answer = answer(patience, MOST_USUALLY, session, target, what, given);
        try {
            return Values.read(answer);
        } catch (IOException | RuntimeException e) {
            throw broken(e);
        }
    }

    /** Asks for rows, whose answer has so many bytes at most. */
    ByteBuffer rows(Duration patience, int most, int session, int target) throws SQLException {
        return answer(patience, most, session, target, Session.ROWS);
    }

    /** Whoever waits for an answer of a connection does not any more. */
    void leave(int session) {
        asked.values().stream().filter(each -> each.session() == session).forEach(each -> each.answer()
                .completeExceptionally(new Left()));
    }

    /** Has something done whose answer nobody waits for. */
    void tell(int session, int target, String what) {
        try {
            say(new DatabaseProgram.Call(last.incrementAndGet(), session, target, what, new Object[0]));
        } catch (IOException e) {
            LOG.debug("the process {} for databases hears no longer", process.pid(), e);
        }
    }

    private void say(DatabaseProgram.Call call) throws IOException {
        byte[] frame = call.bytes();
        synchronized (out) {
            out.writeInt(frame.length);
            out.write(frame);
            out.flush();
        }
    }

    private ByteBuffer answer(Duration patience, int most, int session, int target, String what, Object... given)
            throws SQLException {
        int number = last.incrementAndGet();
        var answer = new CompletableFuture<ByteBuffer>();
        asked.put(number, new Asked(session, answer, most));
        try {
            say(new DatabaseProgram.Call(number, session, target, what, given));
            if (over) {
                throw gone();
            }
            return checked(answer.get(patience.toNanos(), TimeUnit.NANOSECONDS));
        } catch (TimeoutException e) {
            throw new Lost("it did not answer within " + Words.duration(patience));
        } catch (ExecutionException e) {
            throw new Lost(LEFT);
        } catch (IOException | CancellationException e) {
            throw gone();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new Lost(LEFT);
        } finally {
            asked.remove(number);
        }
    }

    private ByteBuffer checked(ByteBuffer answer) throws SQLException {
        try {
            switch (answer.get()) {
                case 'v' -> {
                    return answer;
                }
                case 'm' -> throw new DriverMissing(Values.text(answer));
                default -> throw Values.readTrouble(answer);
            }
        } catch (IOException | BufferUnderflowException e) {
            throw broken(e);
        }
    }

    /** What it says is not to be understood: it, or the driver in it, is not what it was. */
    SQLException broken(Exception e) {
        LOG.warn("the process {} for databases says what cannot be understood; it is ended", process.pid(), e);
        close();
        return new Gone(ENDED);
    }

    private Gone gone() {
        try {
            boolean ended = process.waitFor(1, TimeUnit.SECONDS);
            int code = ended ? process.exitValue() : 0;
            if (code != 0 && code != Beside.OUT_OF_MEMORY) {
                LOG.debug("the process {} for databases has ended with exit code {}", process.pid(), code);
            }
            return new Gone(
                    code == Beside.OUT_OF_MEMORY
                            ? "an answer takes more than the " + memory + " MB of memory that there are for it"
                            : ENDED);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return new Gone(ENDED);
        }
    }

    /** Ends it, whatever it does. */
    @Override
    public void close() {
        over = true;
        try {
            process.destroyForcibly().waitFor(ENDS_SECONDS, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
