package org.gantrel.service.notification;

import java.util.List;
import org.gantrel.service.fault.FaultMessage;
import org.gantrel.service.fault.FaultMessages;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The messages about a fault, for its page. */
@Component
class MessagesOfFault implements FaultMessages {

    private final DeliveryStore store;

    MessagesOfFault(DeliveryStore store) {
        this.store = store;
    }

    @Override
    @Transactional(readOnly = true)
    public List<FaultMessage> of(long fault) {
        return store.findByFaultIdOrderById(fault).stream()
                .map(each -> {
                    DeliveryView view = each.view("");
                    return new FaultMessage(
                            view.madeAt(),
                            view.kind(),
                            view.rule(),
                            each.person().isEmpty() ? each.address() : each.person(),
                            each.channel(),
                            view.state(),
                            view.nextTryAt());
                })
                .toList();
    }
}
