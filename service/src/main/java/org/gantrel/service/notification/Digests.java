package org.gantrel.service.notification;

import jakarta.annotation.PostConstruct;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import org.gantrel.core.job.Job;
import org.gantrel.core.notification.Digest;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.notification.NotificationRule.Urgency;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.fault.FaultLedger;
import org.gantrel.service.fault.FaultRecord;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.notification.Addressees.Addressee;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.telling.Tellings;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Writes the digests that are due: how it went since the last one. Up to when it has told is written with the messages, so that
 * nothing is told in two digests and nothing in none.
 */
@Component
class Digests {

    private static final int MOST_RUNS = 20_000;
    private static final int MOST_LISTED = 100;
    private static final Duration BETWEEN_THINNINGS = Duration.ofHours(1);
    private static final Duration KEPT = Duration.ofDays(90);
    private static final Duration LONGEST_PLANNED = Duration.ofHours(1);
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("EEE d MMM HH:mm", Locale.ENGLISH);

    private final Tellings tellings;
    private final Addressees addressees;
    private final DigestToldStore told;
    private final DeliveryStore deliveries;
    private final Runs runs;
    private final Jobs jobs;
    private final FaultLedger faults;
    private final Teams teams;
    private final Texts texts;
    private final Courier courier;
    private final SetAside aside;
    private final Settings settings;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final Map<Digest, Optional<Instant>> planned = new HashMap<>();
    private Instant thinned;

    Digests(
            Tellings tellings,
            Addressees addressees,
            DigestToldStore told,
            DeliveryStore deliveries,
            Runs runs,
            Jobs jobs,
            FaultLedger faults,
            Teams teams,
            Texts texts,
            Courier courier,
            SetAside aside,
            Settings settings,
            TransactionTemplate transaction,
            Clock clock) {
        this.tellings = tellings;
        this.addressees = addressees;
        this.told = told;
        this.deliveries = deliveries;
        this.runs = runs;
        this.jobs = jobs;
        this.faults = faults;
        this.teams = teams;
        this.texts = texts;
        this.courier = courier;
        this.aside = aside;
        this.settings = settings;
        this.transaction = transaction;
        this.clock = clock;
    }

    @PostConstruct
    void listen() {
        courier.beforeEachLook(this::look);
    }

    /** Writes what is due; says when something is next. */
    private Optional<Instant> look() {
        Instant now = clock.instant();
        List<Instant> next = new ArrayList<>();
        if (thinned == null || thinned.plus(BETWEEN_THINNINGS).isBefore(now)) {
            thinned = now;
            transaction.executeWithoutResult(status -> deliveries.thin(now.minus(KEPT)));
        }
        List<Digest> digests = tellings.digests();
        planned.keySet().retainAll(digests);
        for (Digest digest : digests) {
            // most looks find nothing due, and must not cost a transaction or a reckoning of times
            Optional<Instant> known = planned.getOrDefault(digest, Optional.of(now));
            if (known.filter(at -> !at.isAfter(now)).isPresent()) {
                Thing thing = new Thing(
                        Kind.EVENT,
                        -2_000_000_000L - Math.abs(digest.name().hashCode()),
                        "the digest " + digest.name(),
                        "");
                aside.attempt(thing, () -> planned.put(digest, transaction.execute(status -> look(digest, now))));
            }
            planned.getOrDefault(digest, Optional.empty()).ifPresent(next::add);
        }
        return next.stream().min(Comparator.naturalOrder());
    }

    private Optional<Instant> look(Digest digest, Instant now) {
        Predicate<LocalDate> days = addressees.working(digest.calendar());
        Optional<DigestTold> before = told.findById(digest.name());
        if (before.isEmpty()) {
            // its first one tells of what happens from now on
            told.save(new DigestTold(digest.name(), now));
        } else if (digest.next(before.get().until(), days)
                .filter(at -> !at.isAfter(now))
                .isPresent()) {
            write(digest, before.get().until(), now);
            before.get().told(now);
        }
        // a calendar may change until then
        Instant soon = now.plus(LONGEST_PLANNED);
        return digest.next(now, days).map(at -> at.isBefore(soon) ? at : soon).or(() -> Optional.of(soon));
    }

    private void write(Digest digest, Instant from, Instant now) {
        List<Long> of = teamsOf(digest).stream()
                .flatMap(name -> teams.named(name).stream())
                .map(Team::id)
                .toList();
        List<Run> ran = of.isEmpty()
                ? List.of()
                : runs.planned(of, from, now, MOST_RUNS).stream()
                        .filter(run -> run.parent().isEmpty() && isFor(digest, run.jobName()))
                        .toList();
        List<FaultRecord> wrong = faults.open().stream()
                .filter(fault -> isFor(digest, jobs.withId(fault.jobId()).name()))
                .toList();
        boolean well = wrong.isEmpty() && ran.stream().noneMatch(run -> Happening.isFault(run.state()) || run.late());
        if (well && !digest.evenIfNothing()) {
            return;
        }
        Texts.Said said = said(digest, from, now, ran, wrong, well);
        long team = teams.named(digest.team()).orElseThrow().id();
        for (Addressee who : addressees.of(digest.to(), now)) {
            var message = new Message(
                    Message.MAIL,
                    who.mail(),
                    "digest",
                    digest.name(),
                    who.person(),
                    Optional.empty(),
                    Optional.empty(),
                    team,
                    said.subject(),
                    said.text(),
                    said.html());
            if (!who.mail().isEmpty() && teamsOf(digest).stream().allMatch(name -> addressees.maySee(who, name))) {
                Instant release = addressees.release(who, Urgency.USUAL, now);
                deliveries.save(new DeliveryRecord(Optional.empty(), message, now, release));
            }
        }
    }

    private static List<String> teamsOf(Digest digest) {
        return digest.scope().teams().isEmpty()
                ? List.of(digest.team())
                : digest.scope().teams();
    }

    private boolean isFor(Digest digest, String name) {
        return jobs.named(name)
                .filter(entry -> !entry.isRetired())
                .map(jobs::current)
                .filter((Job job) -> digest.scope().isFor(job, digest.team()))
                .isPresent();
    }

    private Texts.Said said(
            Digest digest, Instant from, Instant now, List<Run> ran, List<FaultRecord> wrong, boolean well) {
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put("From", TIME.format(from.atZone(digest.zone())) + " to " + TIME.format(now.atZone(digest.zone())));
        for (RunState state : RunState.values()) {
            long count = ran.stream().filter(run -> run.state() == state).count();
            if (count > 0) {
                facts.put(state.word().replace('-', ' '), Words.count(count, "run"));
            }
        }
        long late = ran.stream().filter(Run::late).count();
        facts.put("Late", late == 0 ? "" : Words.count(late, "run"));
        List<Map<String, Object>> items = new ArrayList<>();
        for (FaultRecord fault : wrong) {
            String name = jobs.withId(fault.jobId()).name();
            items.add(item(
                    name + " " + fault.state().word() + " since "
                            + TIME.format(fault.openedAt().atZone(digest.zone())) + ": " + fault.message()
                            + (fault.seenBy().isEmpty() ? "" : "; " + fault.seenBy() + " sees to it"),
                    "/faults/" + fault.id()));
        }
        ran.stream()
                .filter(run -> Happening.isFault(run.state())
                        && wrong.stream().noneMatch(fault -> fault.lastRun() == run.number()))
                .limit(MOST_LISTED)
                .forEach(run -> items.add(item(
                        run.jobName() + " " + run.state().word() + ": " + run.message(), "/runs/" + run.number())));
        String how = well
                ? "all is well"
                : wrong.isEmpty()
                        ? "something went wrong and is over"
                        : Words.count(wrong.size(), "fault") + " to see to";
        return texts.digest(
                digest.name() + ": " + Words.count(ran.size(), "run") + ", " + how,
                facts,
                items,
                well,
                "You get the digest " + digest.name() + " of the team " + digest.team() + ".");
    }

    private Map<String, Object> item(String sentence, String path) {
        return Map.of("sentence", sentence.replaceAll("\\p{Cntrl}+", " "), "link", settings.url() + path);
    }
}
