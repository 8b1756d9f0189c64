package org.gantrel.service.notification;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;

/**
 * A mail and how far it has come.
 *
 * @param state {@code waiting}, {@code sent}, or {@code failed} when the last try was
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
record DeliveryView(
        long id,
        long run,
        String team,
        String address,
        String subject,
        String state,
        int tries,
        Instant madeAt,
        Instant nextTryAt,
        Instant sentAt,
        String lastError) {}
