package org.gantrel.service.event;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/** Live changes. They go out after the transaction that made them, and the latest are kept for those who reconnect. */
@Component
public class Events {

    private static final int KEPT = 1_000;

    private final Deque<Event> latest = new ArrayDeque<>();
    private final List<Consumer<Event>> watchers = new CopyOnWriteArrayList<>();
    private long lastId;

    /** Tells of a change once it is durable; at once where no transaction is open. */
    public void tell(String type, String team, Map<String, Object> about) {
        if (!TransactionSynchronizationManager.isSynchronizationActive()) {
            send(type, team, about);
            return;
        }
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCommit() {
                send(type, team, about);
            }
        });
    }

    void watch(Consumer<Event> watcher) {
        watchers.add(watcher);
    }

    void unwatch(Consumer<Event> watcher) {
        watchers.remove(watcher);
    }

    int watching() {
        return watchers.size();
    }

    /** What was told after the event with the given id, as far as it is kept. */
    synchronized List<Event> since(long id) {
        return latest.stream().filter(event -> event.id() > id).toList();
    }

    private void send(String type, String team, Map<String, Object> about) {
        Event event;
        synchronized (this) {
            event = new Event(++lastId, type, team, about);
            latest.addLast(event);
            if (latest.size() > KEPT) {
                latest.removeFirst();
            }
        }
        watchers.forEach(watcher -> watcher.accept(event));
    }
}
