package org.gantrel.service.notification;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.service.notification.SentNotes.Note;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * One channel's messages while some of them go out: which still wait, and which the other side has taken that are not marked
 * yet. Both are asked and written for some at a time, as long as the other side is quick. Used by one thread.
 */
final class Round implements AutoCloseable {

    private static final int TOGETHER = 50;
    private static final Duration QUICK = Duration.ofMillis(200);

    private final String channel;
    private final DeliveryStore store;
    private final SentNotes notes;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final List<Note> taken = new ArrayList<>();
    private Set<Long> still = Set.of();
    private Set<Long> asked = Set.of();
    private Instant askedAt = Instant.EPOCH;
    private Instant takenSince = Instant.EPOCH;

    Round(String channel, DeliveryStore store, SentNotes notes, TransactionTemplate transaction, Clock clock) {
        this.channel = channel;
        this.store = store;
        this.notes = notes;
        this.transaction = transaction;
        this.clock = clock;
        // of a round before this one, whose marking failed
        taken.addAll(notes.left(channel));
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
        Set<Long> gone = taken.stream().map(Note::id).collect(Collectors.toSet());
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
        taken.add(note);
        boolean noted = notes.write(channel, note);
        if (!noted || taken.size() >= TOGETHER || !now.isBefore(takenSince.plus(QUICK))) {
            mark();
        }
    }

    /** Marks in the database what was taken. */
    void mark() {
        if (!taken.isEmpty()) {
            transaction.executeWithoutResult(
                    status -> store.sent(taken.stream().map(Note::id).toList(), clock.instant()));
            taken.clear();
            notes.clear(channel);
        }
    }

    @Override
    public void close() {
        mark();
    }
}
