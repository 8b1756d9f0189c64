package org.gantrel.service.notification;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Future;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.service.notification.SentNotes.Note;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.data.domain.Limit;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * One channel's messages while some of them go out: which still wait, and which the other side has taken that are not marked
 * yet. Both are asked and written for some at a time, as long as the other side is quick; what comes next is read and the
 * marks are made by other threads meanwhile. Used by one thread.
 */
final class Round implements AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(Round.class);
    private static final int MOST_AT_ONCE = 1_000;
    private static final int TOGETHER = 50;
    private static final Duration QUICK = Duration.ofMillis(200);

    private final String channel;
    private final DeliveryStore store;
    private final SentNotes notes;
    private final TransactionTemplate transaction;
    private final Consumer<Set<Long>> news;
    private final Clock clock;
    private final ExecutorService helpers = Threads.pool("courier-helper", 2);
    private final List<Note> taken = new ArrayList<>();
    /** Whose messages this round has sent. */
    private final Set<Long> teams = ConcurrentHashMap.newKeySet();

    private List<Note> handedOver = List.of();
    private Future<?> marking;
    private Future<List<DeliveryRecord>> ahead;
    private Set<Long> still = Set.of();
    private Set<Long> asked = Set.of();
    private Instant askedAt = Instant.EPOCH;
    private Instant takenSince = Instant.EPOCH;

    /** @param news is told, where messages are marked, whose they are */
    Round(
            String channel,
            DeliveryStore store,
            SentNotes notes,
            TransactionTemplate transaction,
            Consumer<Set<Long>> news,
            Clock clock) {
        this.news = news;
        this.channel = channel;
        this.store = store;
        this.notes = notes;
        this.transaction = transaction;
        this.clock = clock;
        // of a round before this one, whose marking failed
        taken.addAll(notes.left(channel));
    }

    /** Some that are due, the oldest first; empty where none is. The next ones are read while these go. */
    List<DeliveryRecord> due() {
        List<DeliveryRecord> due = ahead == null ? List.of() : outcome(ahead);
        if (due.isEmpty()) {
            // from the first again: those that had failed may have been put forward meanwhile
            due = read(0);
        }
        long last = due.isEmpty() ? 0 : due.get(due.size() - 1).id();
        ahead = due.size() < MOST_AT_ONCE ? null : helpers.submit(() -> read(last));
        return due;
    }

    private List<DeliveryRecord> read(long after) {
        return store.due(channel, clock.instant(), after, Limit.of(MOST_AT_ONCE));
    }

    private static <T> T outcome(Future<T> future) {
        try {
            return future.get();
        } catch (ExecutionException e) {
            throw new IllegalStateException(e.getCause());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    /**
     * Those of some messages that still wait and are due; those before them may have taken their time.
     *
     * @param next what is asked for next, so that one question serves for them as well
     */
    List<DeliveryRecord> stillDue(Collection<DeliveryRecord> some, Collection<DeliveryRecord> next) {
        Instant now = clock.instant();
        boolean known = some.stream().allMatch(each -> asked.contains(each.id())) && now.isBefore(askedAt.plus(QUICK));
        if (!known) {
            var ids = new HashSet<Long>();
            some.forEach(each -> ids.add(each.id()));
            next.stream().limit(TOGETHER).forEach(each -> ids.add(each.id()));
            asked = ids;
            askedAt = now;
            still = Set.copyOf(store.stillDue(ids, now));
        }
        Set<Long> gone =
                Stream.concat(taken.stream(), handedOver.stream()).map(Note::id).collect(Collectors.toSet());
        return some.stream()
                .filter(each -> still.contains(each.id()) && !gone.contains(each.id()))
                .toList();
    }

    /** Notes that the other side has taken a message. */
    void taken(DeliveryRecord delivery) {
        Instant now = clock.instant();
        if (taken.isEmpty()) {
            takenSince = now;
        }
        var note = new Note(delivery.id(), delivery.madeAt(), now);
        teams.add(delivery.teamOrNone());
        taken.add(note);
        boolean noted = notes.write(channel, note);
        if (!noted) {
            mark();
        } else if (taken.size() >= TOGETHER || !now.isBefore(takenSince.plus(QUICK))) {
            handOver();
        }
    }

    /** Has what was taken be marked while the next ones go. */
    private void handOver() {
        settle();
        List<Note> these = List.copyOf(taken);
        List<Path> files = notes.seal(channel);
        handedOver = these;
        marking = helpers.submit(() -> mark(these, files));
        taken.clear();
    }

    /** Waits for what was handed over. What could not be marked is tried once more, and its trouble is the caller's. */
    private void settle() {
        Future<?> last = marking;
        if (last == null) {
            return;
        }
        marking = null;
        try {
            outcome(last);
            handedOver = List.of();
        } catch (IllegalStateException e) {
            LOG.debug("what was sent by {} is marked once more", channel, e);
            taken.addAll(0, handedOver);
            handedOver = List.of();
            mark();
        }
    }

    /** Marks in the database what was taken. */
    void mark() {
        settle();
        if (!taken.isEmpty()) {
            mark(List.copyOf(taken), notes.seal(channel));
            taken.clear();
        }
    }

    private void mark(List<Note> these, List<Path> files) {
        Set<Long> of = Set.copyOf(teams);
        transaction.executeWithoutResult(status -> {
            store.sent(these.stream().map(Note::id).toList(), clock.instant());
            news.accept(of);
        });
        notes.clear(files);
    }

    @Override
    public void close() {
        try {
            mark();
        } finally {
            helpers.shutdown();
        }
    }
}
