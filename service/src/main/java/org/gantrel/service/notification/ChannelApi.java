package org.gantrel.service.notification;

import java.time.Clock;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.notification.Channel;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.MailAddress;
import org.gantrel.service.change.Changes;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.gantrel.service.telling.Tellings;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.support.TransactionTemplate;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

/** Tries a channel by sending a message, which waits for the other side; so it runs in no transaction. */
@RestController
class ChannelApi {

    /** @param to the address of a mail; left out for one's own */
    record TestBody(String to) {}

    /** @param said the other side's own words where it did not take the message */
    record Tried(String channel, String to, boolean taken, String said, Instant at) {}

    private final Tellings tellings;
    private final PersonSayStore says;
    private final Calls calls;
    private final Texts texts;
    private final Settings settings;
    private final Changes changes;
    private final TransactionTemplate transaction;
    private final Clock clock;

    ChannelApi(
            Tellings tellings,
            PersonSayStore says,
            Calls calls,
            Texts texts,
            Settings settings,
            Changes changes,
            TransactionTemplate transaction,
            Clock clock) {
        this.transaction = transaction;
        this.tellings = tellings;
        this.says = says;
        this.calls = calls;
        this.texts = texts;
        this.settings = settings;
        this.changes = changes;
        this.clock = clock;
    }

    @PostMapping("/api/v1/channels/{name}/test")
    Tried test(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestBody(required = false) TestBody body) {
        caller.requireSomewhere(Deed.DEFINE_JOBS);
        return name.equals(Message.MAIL) ? mail(caller, body) : call(caller, name);
    }

    private void note(Caller caller, String name, String team, String details) {
        transaction.executeWithoutResult(status -> changes.record(caller, "tried", "channel", name, team, details));
    }

    private Tried mail(Caller caller, TestBody body) {
        String own = says.findById(caller.name()).map(PersonSay::mail).orElse("");
        String to = body == null || body.to() == null ? own : body.to().strip();
        if (to.isEmpty()) {
            throw new InvalidException("to", "is missing: the address, since none is known of " + caller.name());
        }
        if (!MailAddress.isOne(to)) {
            throw new InvalidException("to", "'" + to + "' is no mail address");
        }
        if (!to.equals(own) && !caller.administrator()) {
            throw Refusal.notAllowed(
                    "a test goes to your own address; 'gantrel me set --mail ADDRESS' says which that is");
        }
        Settings.Mail server = settings.mail()
                .orElseThrow(() -> Refusal.conflict("no mail server is set; the administrator sets mail-host"));
        note(caller, Message.MAIL, "", "a mail to " + to);
        Texts.Said said = texts.test(caller.name());
        var message = new Message(
                Message.MAIL,
                to,
                "test",
                "",
                caller.name(),
                Optional.empty(),
                Optional.empty(),
                0,
                said.subject(),
                said.text(),
                said.html());
        Instant now = clock.instant();
        try (var mails = new Mails(server, delivery -> Attachments.NONE)) {
            String error = mails.send(new DeliveryRecord(Optional.empty(), message, now, now));
            return new Tried(Message.MAIL, to, error.isEmpty(), error, now);
        }
    }

    private Tried call(Caller caller, String name) {
        Channel channel = (Channel) tellings.visible(caller, "channel", name).telling();
        caller.require(Deed.DEFINE_JOBS, channel.team());
        note(caller, name, channel.team(), "");
        var data = new LinkedHashMap<>(texts.test(caller.name()).values());
        Instant now = clock.instant();
        String error = calls.send(channel, Calls.testBody(channel, data), "test-" + now.toEpochMilli(), now.toString());
        return new Tried(name, channel.place(), error.isEmpty(), error, now);
    }
}
