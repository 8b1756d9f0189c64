package org.gantrel.service.notification;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.notification.NotificationRule.Urgency;
import org.gantrel.core.notification.QuietHours;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.MailAddress;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Zones;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.data.domain.Limit;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What somebody says about being told, and what they have been told. */
@RestController
@RequestMapping("/api/v1/me")
@Transactional
class MyApi {

    private static final int MOST_INTERESTS = 500;

    /**
     * How somebody is told.
     *
     * @param mail where mails go; empty for nowhere: then the console alone tells
     * @param zone where they are, which the quiet hours are meant in
     * @param quietFrom the local time at which quiet begins, such as 22:00; the same as its end for none
     * @param calendar the calendar of the days on which they work; empty where that is every day
     * @param wakes what comes through in quiet hours: {@code calm} all, {@code usual}, or only what is {@code urgent}
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record SayView(
            String person,
            String mail,
            String zone,
            String quietFrom,
            String quietUntil,
            String calendar,
            String wakes,
            List<InterestView> jobs) {}

    /** @param follows whether they are told whatever the rules say; otherwise the job is muted for them */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record InterestView(String job, boolean follows, Instant until) {}

    record InterestBody(Boolean follows, Instant until) {}

    /** What the bell shows. */
    record Bell(long unseen, List<Rung> messages) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Rung(long id, String kind, String subject, Instant at, boolean seen, Long run, Long fault) {}

    private final PersonSayStore says;
    private final PeopleSay people;
    private final PersonInterestStore interests;
    private final DeliveryStore deliveries;
    private final Calendars calendars;
    private final Jobs jobs;
    private final Clock clock;

    MyApi(
            PersonSayStore says,
            PeopleSay people,
            PersonInterestStore interests,
            DeliveryStore deliveries,
            Calendars calendars,
            Jobs jobs,
            Clock clock) {
        this.says = says;
        this.people = people;
        this.interests = interests;
        this.deliveries = deliveries;
        this.calendars = calendars;
        this.jobs = jobs;
        this.clock = clock;
    }

    @GetMapping("/telling")
    @Transactional(readOnly = true)
    SayView say(@AuthenticationPrincipal Caller caller) {
        PersonSay say = says.findById(caller.name()).orElseGet(() -> new PersonSay(caller.name()));
        QuietHours quiet = say.quiet();
        return new SayView(
                caller.name(),
                say.mail(),
                quiet.zone().getId(),
                quiet.from().toString(),
                quiet.until().toString(),
                say.calendar(),
                quiet.wakes().word(),
                interests.findByPersonOrderByJob(caller.name()).stream()
                        .map(each -> new InterestView(
                                each.job(), each.follows(), each.until().orElse(null)))
                        .toList());
    }

    @PutMapping("/telling")
    SayView change(@AuthenticationPrincipal Caller caller, @RequestBody SayView body) {
        var problems = new ArrayList<Problem>();
        String mail = text(body.mail()).strip();
        if (!mail.isEmpty() && !MailAddress.isOne(mail)) {
            problems.add(Problem.of("mail", "'" + mail + "' is no mail address"));
        }
        String zone = text(body.zone()).isEmpty() ? "UTC" : body.zone();
        Optional<ZoneId> at = zone(zone);
        if (at.isEmpty()) {
            problems.add(Problem.of("zone", "'" + zone + "' is no time zone" + Zones.hint(zone)));
        }
        Optional<LocalTime> from = time("quietFrom", body.quietFrom(), problems);
        Optional<LocalTime> until = time("quietUntil", body.quietUntil(), problems);
        String calendar = text(body.calendar());
        if (!calendar.isEmpty() && calendars.days(calendar).isEmpty()) {
            problems.add(Problem.of(
                    "calendar", "there is no calendar '" + calendar + "'" + Nearest.hint(calendar, calendars.names())));
        }
        String wakes = text(body.wakes()).isEmpty() ? Urgency.URGENT.word() : body.wakes();
        if (!Urgency.words().contains(wakes)) {
            problems.add(Problem.of(
                    "wakes",
                    "'" + wakes + "': " + String.join(", ", Urgency.words()) + Nearest.hint(wakes, Urgency.words())));
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        people.say(
                caller.name(),
                mail,
                new QuietHours(
                        at.get(),
                        from.orElse(LocalTime.MIDNIGHT),
                        until.orElse(LocalTime.MIDNIGHT),
                        Urgency.values()[Urgency.words().indexOf(wakes)]),
                calendar);
        return say(caller);
    }

    private static String text(String given) {
        return given == null ? "" : given;
    }

    private static Optional<ZoneId> zone(String name) {
        try {
            return Optional.of(ZoneId.of(name));
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    private static Optional<LocalTime> time(String field, String given, List<Problem> problems) {
        try {
            return text(given).isEmpty() ? Optional.empty() : Optional.of(LocalTime.parse(given));
        } catch (DateTimeException e) {
            problems.add(Problem.of(field, "'" + given + "': a local time such as 22:00 would be right"));
            return Optional.empty();
        }
    }

    /** Follows a job, or mutes it. @param body until when; left out for until it is taken back */
    @PutMapping("/jobs/{job}")
    SayView say(@AuthenticationPrincipal Caller caller, @PathVariable String job, @RequestBody InterestBody body) {
        JobEntry entry = jobs.visible(caller, job);
        if (body.follows() == null) {
            throw new InvalidException("follows", "is missing: true to be told of " + job + ", false to mute it");
        }
        if (body.until() != null && !body.until().isAfter(clock.instant())) {
            throw new InvalidException("until", body.until() + " is over already");
        }
        PersonInterest interest = interests
                .findByPersonAndJob(caller.name(), entry.name())
                .orElseGet(() -> new PersonInterest(caller.name(), entry.name()));
        if (interests.findByPersonOrderByJob(caller.name()).size() >= MOST_INTERESTS) {
            throw Refusal.conflict("you follow or mute " + MOST_INTERESTS + " jobs already; take some back");
        }
        interest.say(body.follows(), body.until());
        interests.saveAndFlush(interest);
        return say(caller);
    }

    /** Takes back that a job is followed or muted. */
    @DeleteMapping("/jobs/{job}")
    SayView takeBack(@AuthenticationPrincipal Caller caller, @PathVariable String job) {
        interests.delete(interests
                .findByPersonAndJob(caller.name(), job)
                .orElseThrow(() -> Refusal.notFound("you neither follow nor mute '" + job + "'")));
        interests.flush();
        return say(caller);
    }

    @GetMapping("/bell")
    @Transactional(readOnly = true)
    Bell bell(@AuthenticationPrincipal Caller caller, @RequestParam(defaultValue = "50") int limit) {
        int most = Math.max(1, Math.min(limit, 200));
        return new Bell(
                deliveries.unseen(caller.name()),
                deliveries.bell(caller.name(), Long.MAX_VALUE, Limit.of(most)).stream()
                        .map(each -> new Rung(
                                each.id(),
                                each.kind(),
                                each.subject(),
                                each.madeAt(),
                                each.isSeen(),
                                each.run().orElse(null),
                                each.fault().orElse(null)))
                        .toList());
    }

    /** Notes that all up to a message was seen. */
    @PostMapping("/bell/seen")
    Bell seen(@AuthenticationPrincipal Caller caller, @RequestParam(defaultValue = "9223372036854775807") long upTo) {
        deliveries.see(caller.name(), upTo);
        return bell(caller, 50);
    }
}
