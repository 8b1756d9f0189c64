package org.gantrel.service.notification;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.job.Job;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.notification.NotificationRule;
import org.gantrel.core.notification.Receiver;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.notification.Addressees.Addressee;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Says who would be told of what, when, by what and why. */
@RestController
class ToldApi {

    /**
     * One line of who would be told.
     *
     * @param what of what
     * @param who the receiver as the rule names them
     * @param reached who that is in person at the moment asked about, and how they are reached; empty for nobody
     * @param at when it would reach them; later than what it tells of where quiet hours hold it back
     * @param when how long after it happened: at once, or after some time in which nobody sees to it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record ToldLine(
            String what, String rule, String who, String reached, String by, Instant at, String when, String why) {}

    /** @param supposed the moment at which it is supposed to happen */
    record ToldView(String job, Instant supposed, List<ToldLine> lines, List<String> warnings) {}

    private final Jobs jobs;
    private final Addressees addressees;
    private final Clock clock;

    ToldApi(Jobs jobs, Addressees addressees, Clock clock) {
        this.jobs = jobs;
        this.addressees = addressees;
        this.clock = clock;
    }

    /**
     * @param what what is supposed to happen, such as {@code failed}; left out for all that anybody is told of
     * @param at when; left out for now
     */
    @GetMapping("/api/v1/jobs/{name}/told")
    @Transactional(readOnly = true)
    ToldView told(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestParam(defaultValue = "") String what,
            @RequestParam(required = false) Instant at) {
        JobEntry entry = jobs.visible(caller, name);
        Optional<Happening> asked = Happening.of(what);
        if (!what.isEmpty() && asked.isEmpty()) {
            throw new InvalidException(
                    "what",
                    "'" + what + "': " + String.join(", ", Happening.words()) + Nearest.hint(what, Happening.words()));
        }
        Job job = jobs.current(entry);
        Instant supposed = Optional.ofNullable(at).orElseGet(clock::instant);
        var of = new Asked(job, supposed, caller.may(Deed.SEE_DELIVERIES, job.team()));
        var lines = new ArrayList<ToldLine>();
        var warnings = new ArrayList<String>();
        for (NotificationRule rule : addressees.rules(job)) {
            rule.tells().stream()
                    .sorted()
                    .filter(happening -> asked.isEmpty() || asked.get() == happening)
                    .forEach(happening -> lines(rule, happening, of, lines));
            boolean nobody = rule.to().stream()
                    .allMatch(receiver ->
                            addressees.of(List.of(receiver), job, "", supposed).isEmpty()
                                    && !(receiver instanceof Receiver.Starter));
            if (nobody) {
                warnings.add("nobody would hear of what the rule " + rule.name() + " tells");
            }
        }
        if (lines.isEmpty()) {
            warnings.add(asked.map(each -> "nobody is told when it is " + each.word())
                    .orElse("nobody is told of anything"));
        }
        return new ToldView(name, supposed, lines, warnings);
    }

    /** What one question is about. @param whole whether people's addresses are shown */
    private record Asked(Job job, Instant supposed, boolean whole) {}

    private void lines(NotificationRule rule, Happening what, Asked asked, List<ToldLine> lines) {
        String first = what == Happening.RECOVERED
                ? "when it works again"
                : what.isFault() && rule.after() > 1 ? "from " + rule.after() + " in a row on" : "at once";
        for (Receiver receiver : rule.to()) {
            lines.addAll(lines(rule, what, receiver, asked, Duration.ZERO, first));
        }
        if (!what.isFault()) {
            return;
        }
        rule.remind()
                .ifPresent(every -> lines.add(line(
                        rule,
                        what,
                        "the same",
                        "",
                        null,
                        "again every " + Words.duration(every) + " while nobody sees to it")));
        for (NotificationRule.Escalation step : rule.then()) {
            String when = "after " + Words.duration(step.after()) + " in which nobody sees to it";
            for (Receiver receiver : step.to()) {
                lines.addAll(lines(rule, what, receiver, asked, step.after(), when));
            }
        }
    }

    /** A line for each person that a receiver is; one that says so where that is nobody. */
    private List<ToldLine> lines(
            NotificationRule rule, Happening what, Receiver receiver, Asked asked, Duration after, String when) {
        Instant at = asked.supposed().plus(after);
        List<Addressee> found = addressees.of(List.of(receiver), asked.job(), "", at);
        if (found.isEmpty()) {
            String why = receiver instanceof Receiver.Starter
                    ? when + ", where a person started it"
                    : "nobody: there is no such person";
            return List.of(line(rule, what, receiver.words(), "", null, why));
        }
        boolean mail = rule.by().equals(Message.MAIL);
        return found.stream()
                .map(who -> new ToldLine(
                        what.word(),
                        rule.name(),
                        receiver.words(),
                        // people's addresses are for those who see messages
                        asked.whole() || who.person().isEmpty() ? who.shown() : who.person(),
                        mail && who.mail().isEmpty() ? "the console only: no mail address is known" : rule.by(),
                        mail ? addressees.release(who, rule.urgency(), at) : at,
                        when,
                        Teller.because(rule)))
                .toList();
    }

    private static ToldLine line(
            NotificationRule rule, Happening what, String who, String reached, Instant at, String when) {
        return new ToldLine(what.word(), rule.name(), who, reached, rule.by(), at, when, Teller.because(rule));
    }
}
