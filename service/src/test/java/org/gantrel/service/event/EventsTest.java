package org.gantrel.service.event;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

@DisplayName("Live changes")
class EventsTest {

    private final Events events = new Events();

    @AfterEach
    void endTransaction() {
        if (TransactionSynchronizationManager.isSynchronizationActive()) {
            TransactionSynchronizationManager.clear();
        }
    }

    private void tell(int number) {
        events.tell("run.changed", "revenue", Map.of("number", number));
    }

    @Test
    @DisplayName("are told in order to all who watch, until they stop watching")
    void areTold() {
        List<Object> first = new ArrayList<>();
        List<Object> second = new ArrayList<>();
        Consumer<Event> watcher = event -> first.add(event.about().get("number"));
        events.watch(watcher);
        events.watch(event -> second.add(event.about().get("number")));
        tell(1);
        tell(2);
        events.unwatch(watcher);
        tell(3);
        assertThat(first).containsExactly(1, 2);
        assertThat(second).containsExactly(1, 2, 3);
        assertThat(events.watching()).isEqualTo(1);
    }

    @Test
    @DisplayName("are told only when they are durable, and not at all when they are undone")
    void areToldWhenDurable() {
        List<Event> heard = new ArrayList<>();
        events.watch(heard::add);
        TransactionSynchronizationManager.initSynchronization();
        tell(1);
        assertThat(heard).isEmpty();
        TransactionSynchronizationManager.getSynchronizations().forEach(TransactionSynchronization::afterCommit);
        assertThat(heard).hasSize(1);
        TransactionSynchronizationManager.clearSynchronization();
        TransactionSynchronizationManager.initSynchronization();
        tell(2);
        TransactionSynchronizationManager.getSynchronizations()
                .forEach(each -> each.afterCompletion(TransactionSynchronization.STATUS_ROLLED_BACK));
        assertThat(heard).hasSize(1);
    }

    @Test
    @DisplayName("are kept for those who reconnect, the latest thousand of them")
    void areKept() {
        for (int i = 1; i <= 1_200; i++) {
            tell(i);
        }
        assertThat(events.since(1_195)).extracting(Event::id).containsExactly(1_196L, 1_197L, 1_198L, 1_199L, 1_200L);
        assertThat(events.since(0)).hasSize(1_000).first().extracting(Event::id).isEqualTo(201L);
    }
}
