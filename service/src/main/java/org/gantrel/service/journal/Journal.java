package org.gantrel.service.journal;

import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.stream.Stream;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * The journal of what happened. Events are written in the transaction that made them true and read by position, each
 * reader at its own pace.
 *
 * <p>Transactions side by side commit in another order than they took their positions. So readers are shown the journal
 * only up to the first position whose transaction is still open; nothing appears behind them later.
 */
@Component
public class Journal {

    private final EntityManager entities;
    private final EventStore store;
    private final CursorStore cursors;
    private final PassedOverStore passedOver;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final List<Runnable> bells = new CopyOnWriteArrayList<>();
    private final TreeSet<Long> open = new TreeSet<>();
    private long last = -1;

    Journal(
            EntityManager entities,
            EventStore store,
            CursorStore cursors,
            PassedOverStore passedOver,
            TransactionTemplate transaction,
            Clock clock) {
        this.entities = entities;
        this.store = store;
        this.cursors = cursors;
        this.passedOver = passedOver;
        this.transaction = transaction;
        this.clock = clock;
    }

    /** Writes an event that tells of no run. */
    @Transactional
    public Event write(String type, String team, Map<String, Object> about) {
        return write(type, null, team, about);
    }

    /** Writes an event into the transaction under way, or into one of its own. */
    @Transactional
    public Event write(String type, Long run, String team, Map<String, Object> about) {
        long position = take();
        Instant now = clock.instant();
        entities.persist(new EventRecord(position, type, now, run, team, about));
        return new Event(position, type, now, run, team, about);
    }

    private long take() {
        @SuppressWarnings("unchecked")
        var mine = (List<Long>) TransactionSynchronizationManager.getResource(this);
        if (mine == null) {
            var fresh = new ArrayList<Long>();
            TransactionSynchronizationManager.bindResource(this, fresh);
            TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
                @Override
                public void afterCompletion(int status) {
                    TransactionSynchronizationManager.unbindResourceIfPossible(Journal.this);
                    close(fresh);
                }
            });
            mine = fresh;
        }
        long position;
        synchronized (open) {
            position = highest() + 1;
            last = position;
            open.add(position);
        }
        mine.add(position);
        return position;
    }

    private void close(List<Long> positions) {
        synchronized (open) {
            positions.forEach(open::remove);
        }
        bells.forEach(Runnable::run);
    }

    private long highest() {
        if (last < 0) {
            last = store.highest().orElse(0L);
        }
        return last;
    }

    /** The position up to which the journal is complete. */
    public long complete() {
        synchronized (open) {
            return open.isEmpty() ? highest() : open.first() - 1;
        }
    }

    /** The events after a position, oldest first; only such that nothing can still appear before. */
    @Transactional(readOnly = true)
    public List<Event> after(long position, int most) {
        long upTo = complete();
        return upTo <= position
                ? List.of()
                : store.between(position, upTo, Limit.of(most)).stream()
                        .map(EventRecord::value)
                        .toList();
    }

    /** Is rung, by whichever thread, when there may be something new; it must come back at once. */
    public void onNews(Runnable bell) {
        bells.add(bell);
    }

    /**
     * Which events go.
     *
     * @param only what their types begin with; empty for all
     * @param but what types begin with that stay; they have a length of their own
     */
    public record Going(String only, Collection<String> but, Instant before) {}

    /** Lets go of events that are older, and that every reader who keeps its place has read; says how many. */
    public int thin(Going going, int batch, Runnable between) {
        long read = readByAll().orElse(complete());
        int gone = 0;
        int some = thinSome(going, read, batch);
        while (some > 0) {
            gone += some;
            between.run();
            some = thinSome(going, read, batch);
        }
        return gone;
    }

    private int thinSome(Going going, long upTo, int most) {
        // the last one stays, so that positions go on from where they were
        long last = Math.min(upTo, complete() - 1);
        List<String> but = List.copyOf(going.but());
        var jpql =
                new StringBuilder("delete from EventRecord e where e.position in (select o.position from EventRecord o"
                        + " where o.at < :before and o.position <= :last and o.type like :only");
        for (int i = 0; i < but.size(); i++) {
            jpql.append(" and o.type not like :but").append(i);
        }
        jpql.append(" order by o.position limit :most)");
        return Optional.ofNullable(transaction.execute(status -> {
                    var query = entities.createQuery(jpql.toString())
                            .setParameter("before", going.before())
                            .setParameter("last", last)
                            .setParameter("only", going.only() + "%")
                            .setParameter("most", most);
                    for (int i = 0; i < but.size(); i++) {
                        query.setParameter("but" + i, but.get(i) + "%");
                    }
                    return query.executeUpdate();
                }))
                .orElse(0);
    }

    /** Those of some runs of which an event is still to be read by a reader who keeps its place. */
    @Transactional(readOnly = true)
    public List<Long> unread(List<Long> runs) {
        return readByAll().map(read -> store.unread(runs, read)).orElse(List.of());
    }

    /** Up to where every reader who keeps its place has dealt with all; nothing where there is none. */
    private Optional<Long> readByAll() {
        return Stream.concat(
                        cursors.findAll().stream().map(CursorRecord::position),
                        passedOver.first().map(position -> position - 1).stream())
                .min(Comparator.naturalOrder());
    }

    /** One event. */
    @Transactional(readOnly = true)
    public Optional<Event> find(long position) {
        return store.findById(position).map(EventRecord::value);
    }

    /** Whether an event of a type was written since a time that says something. @param says a part of its JSON */
    @Transactional(readOnly = true)
    public boolean holdsSince(String type, String says, Instant since) {
        return store.holds(type, "%" + says + "%", since);
    }

    /** The events of a run, the oldest first. */
    @Transactional(readOnly = true)
    public List<Event> of(long run, int most) {
        return store.findByRunNumberOrderByPosition(run, Limit.of(most)).stream()
                .map(EventRecord::value)
                .toList();
    }

    /** How far a reader has come; one that is new begins with what happens from now on. */
    @Transactional
    public long position(String reader) {
        return cursors.findById(reader)
                .orElseGet(() -> cursors.save(new CursorRecord(reader, complete())))
                .position();
    }

    /** What a reader has passed over, and is still to deal with: by a service before this one too. */
    @Transactional(readOnly = true)
    public List<Event> passedOver(String reader) {
        return passedOver.findByReaderOrderByPosition(reader).stream()
                .flatMap(each -> find(each.position()).stream())
                .toList();
    }

    /** Notes that a reader goes on, and has to come back to an event. */
    @Transactional
    public void passOver(String reader, long position) {
        passedOver.save(new PassedOver(reader, position));
        moveTo(reader, position);
    }

    /** Notes that a reader has come back to an event, in the transaction in which it did what follows. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void cameBackTo(String reader, long position) {
        passedOver.dealtWith(reader, position);
    }

    /** Notes how far a reader has come, in the transaction in which it did what follows from the events. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void moveTo(String reader, long position) {
        cursors.findById(reader).orElseThrow().moveTo(position);
    }
}
