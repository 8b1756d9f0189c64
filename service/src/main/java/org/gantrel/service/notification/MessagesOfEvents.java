package org.gantrel.service.notification;

import java.util.Collection;
import java.util.List;
import org.gantrel.service.lineage.ToldOf;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The messages that events caused, for who wants to know what came of what. */
@Component
class MessagesOfEvents implements ToldOf {

    private final DeliveryStore store;

    MessagesOfEvents(DeliveryStore store) {
        this.store = store;
    }

    @Override
    @Transactional(readOnly = true)
    public List<Message> of(Collection<Long> events) {
        return store.findByEventPositionInOrderById(events).stream()
                .map(each -> {
                    DeliveryView view = each.view("");
                    return new Message(
                            each.id(),
                            each.eventPosition().orElseThrow(),
                            view.madeAt(),
                            each.person().isEmpty() ? each.address() : each.person(),
                            each.channel(),
                            each.subject(),
                            view.state());
                })
                .toList();
    }
}
