package org.gantrel.core.notification;

import java.util.List;

/** What is defined about telling people: a rule, a duty list, a channel, a digest, a wording. */
public sealed interface Telling permits NotificationRule, DutyList, Channel, Digest, Wording {

    /** The words that begin such definitions. */
    List<String> KINDS = List.of("notification", "duty", "channel", "digest", "wording");

    String name();

    String team();

    String about();

    /** The word that begins its definition. */
    default String kind() {
        if (this instanceof NotificationRule) {
            return "notification";
        }
        if (this instanceof Wording) {
            return "wording";
        }
        return this instanceof DutyList ? "duty" : this instanceof Digest ? "digest" : "channel";
    }
}
