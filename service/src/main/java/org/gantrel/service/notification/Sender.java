package org.gantrel.service.notification;

/** What takes a message to its receiver. */
interface Sender {

    /** Sends one message; what went wrong in the other side's own words, or the empty text. */
    String send(DeliveryRecord delivery);
}
