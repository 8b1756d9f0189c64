package org.gantrel.service.notification;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;

/** What messages say; those that say the same to several share it. It never changes. */
@Entity
@Table(name = "delivery_text")
class DeliveryText {

    private static final int LONGEST_BODY = 20_000;

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String body;
    private String html;

    protected DeliveryText() {}

    DeliveryText(String body, String html) {
        this.body = body.length() <= LONGEST_BODY ? body : body.substring(0, LONGEST_BODY);
        this.html = html;
    }

    String body() {
        return body;
    }

    /** Empty where there is plain text alone. */
    String html() {
        return html;
    }
}
