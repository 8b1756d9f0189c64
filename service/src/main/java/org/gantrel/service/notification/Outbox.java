package org.gantrel.service.notification;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.gantrel.core.job.Job;
import org.gantrel.core.notification.Gathering;
import org.gantrel.core.notification.NotificationRule;
import org.gantrel.core.notification.NotificationRule.Urgency;
import org.gantrel.service.fault.FaultRecord;
import org.gantrel.service.notification.Addressees.Addressee;
import org.gantrel.service.run.Run;
import org.gantrel.service.telling.Tellings;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/** Where messages are written, in the transaction of what they tell of; from here the courier takes them. */
@Component
@Transactional(propagation = Propagation.MANDATORY)
class Outbox {

    private static final Duration OLD_NEWS = Duration.ofHours(1);
    /** What is older rings no bell. */
    private static final Duration LONG_PAST = Duration.ofDays(1);

    private final DeliveryStore store;
    private final Addressees addressees;
    private final Tellings tellings;
    private final Texts texts;
    private final MessageNews news;
    private final Clock clock;

    Outbox(DeliveryStore store, Addressees addressees, Tellings tellings, Texts texts, MessageNews news, Clock clock) {
        this.texts = texts;
        this.news = news;
        this.store = store;
        this.addressees = addressees;
        this.tellings = tellings;
        this.clock = clock;
    }

    /**
     * What brings messages up.
     *
     * @param run the run that it is about; nothing where it is about none
     * @param team whose it is
     * @param reached where a message of it goes already: nobody is told twice by two rules
     */
    record Occasion(
            Optional<Long> position, Optional<Run> run, String team, long teamId, Instant at, Set<String> reached) {

        /** Something that happened to a run. */
        static Occasion of(Optional<Long> position, Run run, Job job, Instant at, Set<String> reached) {
            return new Occasion(position, Optional.of(run), job.team(), run.teamId(), at, reached);
        }

        private boolean isNew(String channel, String place) {
            return reached.add(channel + " " + place);
        }
    }

    /** Writes a message to each receiver by the rule's channel, and into the console for those who have an account. */
    void send(
            Occasion occasion,
            NotificationRule rule,
            Collection<Addressee> to,
            String kind,
            Optional<FaultRecord> fault,
            Function<Boolean, Texts.Said> says) {
        var written = new Written(occasion, Optional.of(rule), kind, fault);
        var shared = new Shared();
        int before = occasion.reached().size();
        if (!rule.by().equals(Message.MAIL) && !to.isEmpty() && occasion.isNew(rule.by(), "")) {
            Texts.Said said = says.apply(true);
            String body = Calls.body(
                    tellings.channel(rule.by()),
                    said,
                    occasion.run(),
                    kind,
                    to.stream().map(Addressee::shown).toList());
            write(
                    occasion,
                    written.message(rule.by(), rule.by(), "", said.subject(), body, ""),
                    shared,
                    rule.urgency());
        }
        for (Addressee who : to) {
            boolean whole = addressees.maySee(who, occasion.team());
            Texts.Said said = worded(rule, says.apply(whole), occasion, whole);
            boolean mails = rule.by().equals(Message.MAIL) && !who.mail().isEmpty();
            List<String> along = whole && occasion.run().isPresent() ? rule.attach() : List.of();
            if (mails && occasion.isNew(Message.MAIL, who.mail())) {
                write(
                        occasion,
                        written.message(
                                        Message.MAIL,
                                        who.mail(),
                                        who.person(),
                                        said.subject(),
                                        said.text(),
                                        said.html())
                                .with(along),
                        shared,
                        rule.urgency());
            }
            if (!who.person().isEmpty() && occasion.isNew(Message.CONSOLE, who.person())) {
                Message shown = written.message(Message.CONSOLE, "", who.person(), said.subject(), said.text(), "");
                var record = new DeliveryRecord(
                        occasion.position(), shown, shared.text(shown), occasion.at(), occasion.at());
                boolean past = occasion.at().isBefore(clock.instant().minus(LONG_PAST));
                store.save(record.shown(occasion.at(), past));
            }
        }
        tellPages(occasion, before);
    }

    private void tellPages(Occasion occasion, int before) {
        if (occasion.reached().size() > before) {
            news.written(occasion.run().map(Run::number), occasion.team());
        }
    }

    private Texts.Said worded(NotificationRule rule, Texts.Said said, Occasion occasion, boolean whole) {
        return rule.worded().isEmpty()
                ? said
                : tellings.wording(rule.worded())
                        .map(wording ->
                                texts.worded(said, wording, occasion.run().filter(run -> whole)))
                        .orElse(said);
    }

    /** The same to addresses that no rule, but the thing itself names. */
    void send(Occasion occasion, Collection<String> addresses, Texts.Said said) {
        var written = new Written(occasion, Optional.empty(), "event", Optional.empty());
        var shared = new Shared();
        int before = occasion.reached().size();
        for (String address : addresses) {
            if (occasion.isNew(Message.MAIL, address)) {
                write(
                        occasion,
                        written.message(Message.MAIL, address, "", said.subject(), said.text(), said.html()),
                        shared,
                        Urgency.USUAL);
            }
        }
        tellPages(occasion, before);
    }

    /** What the messages of one rule say; those that say the same share it. */
    private static final class Shared {

        private final Map<List<String>, DeliveryText> texts = new HashMap<>();

        DeliveryText text(Message message) {
            return texts.computeIfAbsent(
                    List.of(message.text(), message.html()), key -> new DeliveryText(message.text(), message.html()));
        }
    }

    /** What all messages of one rule about one occasion have in common. */
    private record Written(
            Occasion occasion, Optional<NotificationRule> rule, String kind, Optional<FaultRecord> fault) {
        private Message message(
                String channel, String address, String person, String subject, String text, String html) {
            return new Message(
                    channel,
                    address,
                    kind,
                    rule.map(NotificationRule::name).orElse(""),
                    person,
                    fault.map(FaultRecord::id),
                    occasion.run().map(Run::number),
                    occasion.teamId(),
                    subject,
                    text,
                    html);
        }
    }

    /** Writes a message into the outbox: quiet hours and storms say when it goes. What is old news goes with other old news. */
    private void write(Occasion occasion, Message message, Shared shared, Urgency urgency) {
        Instant now = clock.instant();
        Instant release = now;
        if (urgency != Urgency.URGENT) {
            release = Gathering.release(
                    store.madeSince(
                            message.channel(),
                            message.address(),
                            now.minus(Gathering.SPAN),
                            Limit.of(Gathering.AT_ONCE)),
                    now);
        }
        Instant awake =
                message.channel().equals(Message.MAIL) && !message.person().isEmpty()
                        ? addressees.release(new Addressee(message.person(), message.address()), urgency, now)
                        : now;
        Instant at = release.isAfter(awake) ? release : awake;
        var delivery = new DeliveryRecord(occasion.position(), message, shared.text(message), now, at);
        if (occasion.at().isBefore(now.minus(OLD_NEWS))) {
            // there is more where this comes from
            Instant together = store.heldUntil(message.channel(), message.address())
                    .filter(until -> until.isAfter(now))
                    .orElse(now.plus(Gathering.SPAN));
            delivery.hold(at.isAfter(together) ? at : together);
        }
        store.save(delivery);
    }

    /** Those whom a rule has told of a fault. */
    Set<Addressee> toldOf(FaultRecord fault, NotificationRule rule) {
        var told = new LinkedHashSet<Addressee>();
        for (DeliveryRecord delivery : store.findByFaultIdOrderById(fault.id())) {
            if (delivery.rule().equals(rule.name())) {
                boolean console = delivery.channel().equals(Message.CONSOLE);
                String mail = delivery.channel().equals(Message.MAIL) ? delivery.address() : "";
                if (!console || told.stream().noneMatch(each -> each.person().equals(delivery.person()))) {
                    told.add(new Addressee(delivery.person(), mail));
                }
            }
        }
        return told;
    }
}
