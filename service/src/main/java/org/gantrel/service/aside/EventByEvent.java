package org.gantrel.service.aside;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Predicate;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.journal.JournalReader;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Deals with the events of the journal one by one: how far a reader has come is written down in the transaction that does
 * what follows from an event, so that this is done once. An event that cannot be dealt with is set aside and tried again,
 * also by the service that comes after this one; the others do not wait for it.
 */
public final class EventByEvent implements JournalReader.Batch {

    /** Events of which nothing follows may be read again after a restart; so a place is not written for each of them. */
    private static final int UNWRITTEN = 200;

    private final String reader;
    private final Journal journal;
    private final SetAside aside;
    private final TransactionTemplate transaction;
    private final Predicate<Event> concerns;
    private final Function<Event, Thing> thing;
    private final Consumer<Event> deal;
    private final Map<Long, Event> passedOver = new TreeMap<>();
    private boolean begun;
    private long written;
    private long read;

    /**
     * @param concerns whether anything follows from an event: the many from which nothing does must not cost a transaction
     * @param thing what people call an event that is set aside
     * @param deal does what follows, in a transaction
     */
    public EventByEvent(
            String reader,
            Journal journal,
            SetAside aside,
            TransactionTemplate transaction,
            Predicate<Event> concerns,
            Function<Event, Thing> thing,
            Consumer<Event> deal) {
        this.reader = reader;
        this.journal = journal;
        this.aside = aside;
        this.transaction = transaction;
        this.concerns = concerns;
        this.thing = thing;
        this.deal = deal;
    }

    /** Deals with a batch; says up to which position that is done. */
    @Override
    public long take(List<Event> events) {
        comeBack();
        for (Event event : events) {
            // of a batch that was broken off, the first ones come again
            if (event.position() <= written || !concerns.test(event)) {
                continue;
            }
            boolean done = aside.attempt(
                    thing.apply(event),
                    () -> transaction.executeWithoutResult(status -> {
                        deal.accept(event);
                        journal.moveTo(reader, event.position());
                    }));
            if (!done) {
                // written down, or whoever comes after this service would know nothing of it
                journal.passOver(reader, event.position());
                passedOver.put(event.position(), event);
            }
            written = event.position();
        }
        long last = events.get(events.size() - 1).position();
        read = last;
        if (read - written >= UNWRITTEN) {
            idle();
        }
        return last;
    }

    /** Tries again what could not be dealt with. */
    private void comeBack() {
        if (!begun) {
            journal.passedOver(reader).forEach(event -> passedOver.put(event.position(), event));
            begun = true;
        }
        for (Event late : List.copyOf(passedOver.values())) {
            boolean done = aside.attempt(
                    thing.apply(late),
                    () -> transaction.executeWithoutResult(status -> {
                        deal.accept(late);
                        journal.cameBackTo(reader, late.position());
                    }));
            if (done) {
                passedOver.remove(late.position());
            }
        }
    }

    @Override
    public void idle() {
        comeBack();
        if (read > written) {
            transaction.executeWithoutResult(status -> journal.moveTo(reader, read));
            written = read;
        }
    }
}
