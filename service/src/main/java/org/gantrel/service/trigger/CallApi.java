package org.gantrel.service.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.gantrel.core.event.EventType;
import org.gantrel.core.trigger.CallGuard;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.journal.Notices;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.secret.RandomToken;
import org.gantrel.service.settings.Settings;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.transaction.support.TransactionTemplate;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * The addresses at which other systems call triggers. Whoever does not show what the trigger asks for learns nothing, not
 * even whether there is such a trigger.
 */
@RestController
@RequestMapping("/api/v1/calls")
class CallApi {

    private static final Duration MINUTE = Duration.ofMinutes(1);
    private static final String NOT_KNOWN =
            "there is no such address, or the call does not show what it takes; the trigger's page says what that is";

    /**
     * What came of a call.
     *
     * @param event its place in the journal
     * @param outcome {@code started}, {@code gathered}, {@code dropped} or {@code refused}
     * @param run the run that it went into, with its address
     * @param why why it started nothing, or later
     * @param again whether it had come before, so that nothing new came of it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record CallAnswer(long event, String outcome, Long run, String link, String why, boolean again) {}

    private final Listeners listeners;
    private final TriggerSwitches switches;
    private final Triggers triggers;
    private final CallProof proof;
    private final KnownCallStore calls;
    private final FiringStore firings;
    private final Journal journal;
    private final Notices notices;
    private final Settings settings;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final Map<String, Deque<Instant>> taken = new ConcurrentHashMap<>();

    CallApi(
            Listeners listeners,
            TriggerSwitches switches,
            Triggers triggers,
            CallProof proof,
            KnownCallStore calls,
            FiringStore firings,
            Journal journal,
            Notices notices,
            Settings settings,
            TransactionTemplate transaction,
            Clock clock) {
        this.listeners = listeners;
        this.switches = switches;
        this.triggers = triggers;
        this.proof = proof;
        this.calls = calls;
        this.firings = firings;
        this.journal = journal;
        this.notices = notices;
        this.settings = settings;
        this.transaction = transaction;
        this.clock = clock;
    }

    /** Takes a call, and answers with what came of it. */
    @PostMapping("/{job}/{trigger}")
    ResponseEntity<CallAnswer> call(@PathVariable String job, @PathVariable String trigger, HttpServletRequest request)
            throws IOException {
        // as it came: a signature is over what was sent, not over what was understood
        byte[] body = request.getInputStream().readAllBytes();
        Listening to = listeners
                .find(job, trigger)
                .filter(each -> each.trigger().source().calls().isPresent())
                .orElseThrow(() -> Refusal.notSignedIn(NOT_KNOWN));
        proof.complaint(to, body, request::getHeader).ifPresent(why -> {
            notices.tell(
                    EventType.CALL_REFUSED,
                    to.team(),
                    Map.of(
                            "name",
                            to.address(),
                            "message",
                            "a call of " + to.address() + " from " + request.getRemoteAddr() + " was refused: " + why));
            throw Refusal.notSignedIn(NOT_KNOWN);
        });
        ration(to);
        if (switches.off().contains(to.address())) {
            throw Refusal.conflict("the trigger " + trigger + " of " + job + " is switched off");
        }
        CallSaid said = CallSaid.read(body, request::getHeader);
        CallAnswer answer = answer(to, said);
        return ResponseEntity.status(answer.again() ? HttpStatus.OK : HttpStatus.ACCEPTED)
                .body(answer);
    }

    private void ration(Listening to) {
        CallGuard guard = to.trigger().source().calls().orElseThrow();
        Instant now = clock.instant();
        Deque<Instant> recent = taken.computeIfAbsent(to.address(), key -> new ArrayDeque<>());
        synchronized (recent) {
            // those of more than a minute ago, by a clock that may have been put back
            recent.removeIf(at -> Duration.between(at, now).abs().compareTo(MINUTE) > 0);
            if (recent.size() >= guard.mostAMinute()) {
                throw Refusal.tooMany(
                        "at most " + guard.mostAMinute() + " calls a minute are taken here",
                        Duration.between(now, recent.peek().plus(MINUTE)));
            }
            recent.add(now);
        }
    }

    private CallAnswer answer(Listening to, CallSaid said) {
        String key = said.key().isEmpty() ? "" : RandomToken.hash(said.key());
        Optional<CallAnswer> before = before(to, key);
        if (before.isPresent()) {
            return before.get();
        }
        try {
            return transaction.execute(status -> take(to, said, key));
        } catch (DataIntegrityViolationException e) {
            // the same call came at the same time, and the other was first
            return before(to, key).orElseThrow(() -> e);
        }
    }

    private Optional<CallAnswer> before(Listening to, String key) {
        return key.isEmpty()
                ? Optional.empty()
                : calls.findByJobIdAndTriggerNameAndCallKey(
                                to.job(), to.trigger().name(), key)
                        .flatMap(known -> firings.findByEventPositionAndJobIdAndTriggerName(
                                known.eventPosition(), to.job(), to.trigger().name()))
                        .map(firing -> answer(firing, true));
    }

    private CallAnswer take(Listening to, CallSaid said, String key) {
        Map<String, Object> about = new LinkedHashMap<>();
        about.put(Listeners.FOR, to.address());
        about.put("source", said.source());
        about.put("subject", said.subject());
        about.put("kind", said.kind());
        about.put("key", said.key());
        about.put(EventFacts.VALUES, said.values());
        Event event = journal.write(EventType.CALL_RECEIVED.type(), to.team(), about);
        if (!key.isEmpty()) {
            calls.saveAndFlush(new KnownCall(to, key, event.position(), event.at()));
        }
        return answer(triggers.fireNow(to, event), false);
    }

    private CallAnswer answer(Firing firing, boolean again) {
        return new CallAnswer(
                firing.eventPosition(),
                firing.outcome().word(),
                firing.run().orElse(null),
                firing.run().map(run -> settings.url() + "/runs/" + run).orElse(null),
                firing.why().isEmpty() ? null : firing.why(),
                again);
    }
}
