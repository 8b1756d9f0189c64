package org.gantrel.service.notification;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;

/**
 * A message and how far it has come.
 *
 * @param state {@code waiting}, {@code sent}, {@code failed}, or {@code gathered} into another
 * @param channel {@code mail}, {@code console}, or the name of a channel
 * @param kind why it is told: {@code first}, {@code reminder}, {@code further}, {@code recovered}, {@code event},
 *     {@code gathered} or {@code test}
 * @param event the place in the journal of the event that it tells of; missing where time alone brought it up
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
record DeliveryView(
        Long id,
        Long run,
        String team,
        String address,
        String subject,
        String state,
        int tries,
        Instant madeAt,
        Instant nextTryAt,
        Instant sentAt,
        String lastError,
        String channel,
        String kind,
        String rule,
        String person,
        Long fault,
        Long gatheredInto,
        Long event) {}
