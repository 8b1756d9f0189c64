package org.gantrel.core.notification;

import java.util.List;

/** What is defined about telling people: a rule, a duty list, a channel. */
public sealed interface Telling permits NotificationRule, DutyList, Channel, Digest {

    /** The words that begin such definitions. */
    List<String> KINDS = List.of("notification", "duty", "channel", "digest");

    String name();

    String team();

    String about();

    /** The word that begins its definition. */
    default String kind() {
        if (this instanceof NotificationRule) {
            return "notification";
        }
        return this instanceof DutyList ? "duty" : this instanceof Digest ? "digest" : "channel";
    }
}
