package org.gantrel.service.notification;

import java.util.List;
import java.util.Optional;
import org.gantrel.core.notification.NotificationRule;

/**
 * A message before it is written down.
 *
 * @param channel {@value #MAIL}, {@value #CONSOLE}, or the name of a channel that is defined
 * @param address where it goes; for a channel that is defined, that one's own
 * @param kind {@code first}, {@code reminder}, {@code further}, {@code recovered}, {@code event}, {@code gathered} or
 *     {@code test}
 * @param rule the rule that tells; empty for none
 * @param person whom it is for; empty for an address alone
 * @param team whose people may see that it was sent
 * @param html empty where there is plain text alone
 * @param attach which outputs of the run go along, by names or patterns
 */
record Message(
        String channel,
        String address,
        String kind,
        String rule,
        String person,
        Optional<Long> fault,
        Optional<Long> run,
        long team,
        String subject,
        String text,
        String html,
        List<String> attach) {

    static final String MAIL = NotificationRule.MAIL;
    static final String CONSOLE = "console";

    /** The same for another place. */
    Message at(String otherChannel, String otherAddress, String otherPerson) {
        return new Message(
                otherChannel, otherAddress, kind, rule, otherPerson, fault, run, team, subject, text, html, attach);
    }

    /** One that nothing goes along with. */
    Message(
            String channel,
            String address,
            String kind,
            String rule,
            String person,
            Optional<Long> fault,
            Optional<Long> run,
            long team,
            String subject,
            String text,
            String html) {
        this(channel, address, kind, rule, person, fault, run, team, subject, text, html, List.of());
    }

    /** The same with outputs of its run. */
    Message with(List<String> outputs) {
        return new Message(channel, address, kind, rule, person, fault, run, team, subject, text, html, outputs);
    }
}
