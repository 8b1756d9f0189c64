package org.gantrel.service.journal;

import java.util.List;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.function.LongSupplier;
import org.gantrel.service.time.RepeatedFault;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Reads the journal in a thread of its own, batch by batch, from where its reader stands. What goes wrong in one batch is
 * tried again after a pause, so that nothing is passed over; a reader that can go on without an event does so itself.
 */
public final class JournalReader implements AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(JournalReader.class);
    private static final int BATCH = 200;
    private static final long LONGEST_SLEEP_MILLIS = 30_000;
    private static final long GATHERING_MILLIS = 10;
    private static final long MOMENT_MILLIS = 300;
    private static final long PAUSE_AFTER_FAULT_MILLIS = 1_000;

    /** Does what follows from events, and says up to which position that is done. */
    @FunctionalInterface
    public interface Batch {
        long take(List<Event> events);

        /** Nothing has come for a moment. */
        default void idle() {}
    }

    private final RepeatedFault faults = new RepeatedFault(LOG);
    private final RepeatedFault idleFaults = new RepeatedFault(LOG);
    private final Journal journal;
    private final Semaphore news = new Semaphore(1);
    private final LongSupplier begin;
    private final Batch batch;
    private final Thread thread;
    private volatile boolean closed;

    /**
     * @param name of the thread
     * @param begin where the reader stands when it begins
     */
    public JournalReader(String name, Journal journal, LongSupplier begin, Batch batch) {
        this.journal = journal;
        this.begin = begin;
        this.batch = batch;
        this.thread = new Thread(this::run, name);
        thread.setDaemon(true);
        journal.onNews(this::ring);
    }

    public JournalReader start() {
        thread.start();
        return this;
    }

    private void ring() {
        if (news.availablePermits() == 0) {
            news.release();
        }
    }

    private void run() {
        long position = -1;
        while (!closed) {
            long pause = LONGEST_SLEEP_MILLIS;
            try {
                position = position < 0 ? begin.getAsLong() : position;
                List<Event> events = journal.after(position, BATCH);
                while (!events.isEmpty() && !closed) {
                    position = batch.take(events);
                    events = journal.after(position, BATCH);
                }
            } catch (Throwable e) {
                // an Error in one batch must not end the thread, or nobody would hear of anything any more
                if (closed) {
                    return;
                }
                faults.met(thread.getName(), e);
                pause = PAUSE_AFTER_FAULT_MILLIS;
            }
            try {
                if (news.tryAcquire(MOMENT_MILLIS, TimeUnit.MILLISECONDS) || cameLater(pause)) {
                    // what happens at the same time is read together
                    Thread.sleep(GATHERING_MILLIS);
                    news.drainPermits();
                }
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    private boolean cameLater(long pause) throws InterruptedException {
        try {
            batch.idle();
        } catch (RuntimeException e) {
            // it is told so again after the next moment without news
            idleFaults.met(thread.getName() + ", when nothing comes,", e);
        }
        return news.tryAcquire(pause, TimeUnit.MILLISECONDS);
    }

    @Override
    public void close() {
        closed = true;
        // not by an interrupt: that would close the file of the database under whoever writes to it
        ring();
        try {
            thread.join(2_000);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
