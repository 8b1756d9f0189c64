package org.gantrel.service.notification;

import java.util.List;

/** What takes a message to its receiver. */
interface Sender {

    /** Sends one message; what went wrong in the other side's own words, or the empty text. */
    String send(DeliveryRecord delivery);

    /** Says which messages are likely to be sent next, so that they can be made ready meanwhile. */
    default void next(List<DeliveryRecord> likely) {}
}
