package org.gantrel.service.notification;

import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.notification.NotificationRule;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Event;
import org.gantrel.service.notification.Outbox.Occasion;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.telling.Tellings;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/** Tells of what is about no run: a job that is silent or will be late, a credential that ends soon, a service that was away. */
@Component
@Transactional(propagation = Propagation.SUPPORTS)
class NoticesToPeople {

    private static final Map<String, Happening> HAPPENINGS = Map.of(
            EventType.JOB_SILENT.type(), Happening.SILENCE,
            EventType.JOB_HEARD.type(), Happening.RECOVERED,
            EventType.JOB_AT_RISK.type(), Happening.AT_RISK,
            EventType.CREDENTIAL_EXPIRING.type(), Happening.CREDENTIAL_EXPIRING,
            EventType.SERVICE_WAS_DOWN.type(), Happening.SERVICE_WAS_DOWN,
            EventType.BACKUP_FAILED.type(), Happening.BACKUP_FAILED);

    private final Jobs jobs;
    private final Teams teams;
    private final Tellings tellings;
    private final Addressees addressees;
    private final Texts texts;
    private final Outbox outbox;

    NoticesToPeople(Jobs jobs, Teams teams, Tellings tellings, Addressees addressees, Texts texts, Outbox outbox) {
        this.jobs = jobs;
        this.teams = teams;
        this.tellings = tellings;
        this.addressees = addressees;
        this.texts = texts;
        this.outbox = outbox;
    }

    /** Whether an event is one of these. */
    boolean concerns(Event event) {
        return HAPPENINGS.containsKey(event.type());
    }

    /** Writes the messages about one, in the transaction under way. */
    void tell(Event event) {
        Happening happening = HAPPENINGS.get(event.type());
        Optional<Job> job = Optional.ofNullable(event.about().get("job"))
                .flatMap(name -> jobs.named(String.valueOf(name)))
                .filter(entry -> !entry.isRetired())
                .map(jobs::current);
        var reached = new HashSet<String>();
        rules(event, happening, job)
                .sorted(Comparator.comparing(NotificationRule::urgency).reversed())
                .forEach(rule -> tell(event, happening, job, rule, reached));
    }

    private Stream<NotificationRule> rules(Event event, Happening happening, Optional<Job> job) {
        if (job.isPresent()) {
            return addressees.rules(job.get()).stream().filter(rule -> rule.isFor(job.get(), happening, false));
        }
        return tellings.rules().stream()
                .filter(rule -> rule.tells().contains(happening))
                .filter(rule -> event.team().isEmpty() || isFor(rule, event.team()));
    }

    private static boolean isFor(NotificationRule rule, String team) {
        List<String> of = rule.scope().teams();
        return of.isEmpty() ? rule.team().equals(team) : of.contains(team) || of.contains(JobScope.ANY);
    }

    private void tell(
            Event event, Happening happening, Optional<Job> job, NotificationRule rule, HashSet<String> reached) {
        String team = event.team().isEmpty() ? rule.team() : event.team();
        Optional<Team> whose = teams.named(team);
        if (whose.isEmpty()) {
            return;
        }
        var occasion = new Occasion(
                Optional.of(event.position()),
                Optional.empty(),
                team,
                whose.get().id(),
                event.at(),
                reached);
        List<Addressees.Addressee> to = job.map(of -> addressees.of(rule.to(), of, "", event.at()))
                .orElseGet(() -> addressees.of(rule.to(), event.at()));
        String kind = happening == Happening.RECOVERED ? "recovered" : "event";
        outbox.send(occasion, rule, to, kind, Optional.empty(), whole -> said(event, happening, job, rule, whole));
    }

    private Texts.Said said(Event event, Happening happening, Optional<Job> job, NotificationRule rule, boolean whole) {
        Map<String, String> facts = new LinkedHashMap<>();
        job.filter(each -> whole).ifPresent(each -> facts.put("What it is for", each.about()));
        Optional.ofNullable(event.about().get("since")).ifPresent(since -> facts.put("Since", String.valueOf(since)));
        String brief = job.map(Job::name).orElse("it")
                + (happening == Happening.AT_RISK ? " will probably be late" : " is silent");
        String sentence = whole ? String.valueOf(event.about().getOrDefault("message", happening.word())) : brief;
        String link = job.map(each -> "/jobs/" + each.name())
                .orElse(
                        happening == Happening.CREDENTIAL_EXPIRING
                                ? "/credentials"
                                : happening == Happening.BACKUP_FAILED ? "/installation" : "/");
        return texts.notice(sentence, facts, link, happening == Happening.RECOVERED, Teller.because(rule));
    }
}
