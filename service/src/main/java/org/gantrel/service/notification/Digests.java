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
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.gantrel.core.job.Job;
import org.gantrel.core.notification.Digest;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.notification.NotificationRule.Urgency;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.change.ChangeView;
import org.gantrel.service.change.Changes;
import org.gantrel.service.fault.FaultLedger;
import org.gantrel.service.fault.FaultRecord;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.notification.Addressees.Addressee;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.telling.Tellings;
import org.gantrel.service.time.PutBackSense;
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
    private static final Duration LEAST_APART = Duration.ofHours(1);
    private static final Duration SETTLED = Duration.ofSeconds(5);
    private static final Duration BETWEEN_LOOKS = Duration.ofMinutes(1);
    private static final Duration FARTHEST = Duration.ofDays(7);
    private static final int MOST_CHAINS = 5;
    private static final int MOST_SHORT = 20;
    private static final int MOST_CHANGES = 500;
    /** More than a week has minutes. */
    private static final int MOST_COMING = 11_000;

    private static final Set<String> DEEDS_WITHOUT_CHANGE = Set.of("started", "tried");

    /** What people define; what they do to runs is no change of it. */
    private static final List<String> DEFINED = List.of(
            "job",
            "schedule",
            "calendar",
            "roster",
            "lane",
            "credential",
            "notification",
            "duty",
            "channel",
            "digest",
            "wording");

    private static final Duration LONGEST_PLANNED = Duration.ofHours(1);
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("EEE d MMM HH:mm", Locale.ENGLISH);

    private final Tellings tellings;
    private final Addressees addressees;
    private final DigestToldStore told;
    private final DeliveryStore deliveries;
    private final Runs runs;
    private final Jobs jobs;
    private final FaultLedger faults;
    private final Changes changes;
    private final Schedules schedules;
    private final Teams teams;
    private final Texts texts;
    private final Courier courier;
    private final SetAside aside;
    private final Settings settings;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final Map<Digest, Optional<Instant>> planned = new HashMap<>();

    private final PutBackSense sense = new PutBackSense(Instant.EPOCH);
    private Instant thinned;

    Digests(
            Tellings tellings,
            Addressees addressees,
            DigestToldStore told,
            DeliveryStore deliveries,
            Runs runs,
            Jobs jobs,
            FaultLedger faults,
            Changes changes,
            Schedules schedules,
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
        this.changes = changes;
        this.schedules = schedules;
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
            // what is left of very many goes with the next look
            thinned = deliveries.thin(now.minus(KEPT)) ? now : null;
            if (thinned == null) {
                next.add(now.plusSeconds(1));
            }
        }
        if (sense.look(now).isPresent()) {
            // what is next is sooner than it was
            planned.clear();
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
        if (digest.when().isEmpty()) {
            return lookAtChain(digest, now);
        }
        Optional<DigestTold> before = told.findById(digest.name());
        if (before.isEmpty()) {
            // its first one tells of what happens from now on
            told.save(new DigestTold(digest.name(), now));
        } else if (before.get().until().isAfter(now)) {
            // the clock was put back: it goes on from here
            before.get().told(now);
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

    /** Tells of the runs of a chain that have ended since the last look. */
    private Optional<Instant> lookAtChain(Digest digest, Instant moment) {
        // an end that is just being written down is seen at the next look
        Instant now = moment.minus(SETTLED);
        DigestTold before = told.findById(digest.name()).orElse(null);
        if (before == null) {
            told.save(new DigestTold(digest.name(), now));
        } else {
            List<Run> ended =
                    chain(digest).map(chain -> runs.latest(chain.id(), false, MOST_LISTED)).orElse(List.of()).stream()
                            .filter(run -> run.finishedAt()
                                    .filter(end -> end.isAfter(before.until()) && !end.isAfter(now))
                                    .isPresent())
                            .toList();
            // a chain may run each minute, and a mail each minute is none: what has ended by then is told together
            Optional<Instant> early = ended.isEmpty()
                    ? Optional.empty()
                    : deliveries
                            .lastDigest(digest.name())
                            .map(last -> last.plus(LEAST_APART))
                            .filter(moment::isBefore);
            if (early.isPresent()) {
                return early;
            }
            if (!ended.isEmpty()) {
                write(digest, before.until(), now, ended);
            }
            before.told(now);
        }
        return Optional.of(moment.plus(BETWEEN_LOOKS));
    }

    /** The chain that a digest tells of, where it is one of the teams that it is for. */
    private Optional<JobEntry> chain(Digest digest) {
        return jobs.named(digest.chain()).filter(job -> teamsOf(digest).contains(job.team()));
    }

    private void write(Digest digest, Instant from, Instant now) {
        List<Long> of = teamsOf(digest).stream()
                .flatMap(name -> teams.named(name).stream())
                .map(Team::id)
                .toList();
        List<Run> ran = of.isEmpty()
                ? List.of()
                // an end that is just being written down is told of by the next one
                : runs.heardOf(of, from.minus(SETTLED), now.minus(SETTLED), MOST_RUNS).stream()
                        .filter(run -> isFor(digest, run.jobName()))
                        .toList();
        write(digest, from, now, ran);
    }

    private void write(Digest digest, Instant from, Instant now, List<Run> ran) {
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
        if (!digest.chain().isEmpty()) {
            return digest.chain().equals(name) && chain(digest).isPresent();
        }
        return jobs.named(name)
                .filter(entry -> !entry.isRetired())
                .map(jobs::current)
                .filter((Job job) -> digest.scope().isFor(job, digest.team()))
                .isPresent();
    }

    private Texts.Said said(
            Digest digest, Instant from, Instant now, List<Run> ran, List<FaultRecord> wrong, boolean well) {
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put(
                "From",
                TIME.format(from.atZone(digest.zone())) + " to " + TIME.format(now.atZone(digest.zone())) + " ("
                        + digest.zone().getId() + ")");
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
                        ? "something went wrong" + (isOver(ran) ? " and is over" : "")
                        : Words.count(wrong.size(), "fault") + " to see to";
        return texts.digest(
                digest.name() + ": " + Words.count(ran.size(), "run") + ", " + how,
                facts,
                items,
                parts(digest, from, now, ran),
                well,
                "You get the digest " + digest.name() + " of the team " + digest.team() + ".");
    }

    private List<Texts.Part> parts(Digest digest, Instant from, Instant now, List<Run> ran) {
        List<Texts.Part> parts = new ArrayList<>();
        if (!digest.chain().isEmpty()) {
            ran.stream()
                    .limit(MOST_CHAINS)
                    .forEach(run -> parts.add(new Texts.Part(
                            "Run " + run.number() + " of " + run.jobName(),
                            runs.children(run.number()).stream()
                                    .filter(step -> teamsOf(digest).contains(jobs.teamOf(step.jobId())))
                                    .limit(MOST_LISTED)
                                    .map(step -> item(step(step), "/runs/" + step.number()))
                                    .toList())));
        }
        parts.add(new Texts.Part("What was changed", changed(digest, from, now)));
        if (!digest.when().isEmpty()) {
            parts.add(new Texts.Part("What is to come", coming(digest, now)));
        }
        return parts;
    }

    private static String step(Run step) {
        return (step.step().isEmpty() ? step.jobName() : step.step()) + " "
                + step.state().word().replace('-', ' ')
                + step.took().map(took -> ", " + Words.duration(took)).orElse("")
                + (Happening.isFault(step.state()) ? ": " + step.message() : "");
    }

    /** Definitions that people changed, a thing a line, the latest first. */
    private List<Map<String, Object>> changed(Digest digest, Instant from, Instant now) {
        Map<String, List<ChangeView>> things = new LinkedHashMap<>();
        changes.between(teamsOf(digest), DEFINED, from, now, MOST_CHANGES).stream()
                .filter(change -> !DEEDS_WITHOUT_CHANGE.contains(change.deed()))
                .filter(change -> !change.kind().equals("job") && !change.kind().equals("schedule")
                        ? digest.chain().isEmpty()
                        : isFor(digest, change.name().replaceFirst("/.*", "")))
                .forEach(change -> things.computeIfAbsent(change.kind() + " " + change.name(), key -> new ArrayList<>())
                        .add(change));
        return things.entrySet().stream()
                .limit(MOST_SHORT)
                .map(thing -> item(
                        thing.getKey() + " was "
                                + thing.getValue().stream()
                                        .map(change -> change.deed() + " by " + change.person())
                                        .distinct()
                                        .limit(3)
                                        .collect(Collectors.joining(", ")),
                        thing.getValue().get(0).kind().equals("job")
                                ? "/jobs/" + thing.getValue().get(0).name()
                                : "/changes"))
                .toList();
    }

    /** The starts until the next digest, a job a line. */
    private List<Map<String, Object>> coming(Digest digest, Instant now) {
        Instant until = digest.next(now, addressees.working(digest.calendar()))
                .filter(next -> next.isBefore(now.plus(FARTHEST)))
                .orElse(now.plus(FARTHEST));
        return schedules.comingJobs(now, until, job -> isFor(digest, job.name()), MOST_SHORT, MOST_COMING).stream()
                .map(job -> item(
                        job.job() + " " + TIME.format(job.first().atZone(digest.zone()))
                                + (job.starts() == 1 ? "" : " and " + (job.starts() - 1) + " more"),
                        "/jobs/" + job.job()))
                .toList();
    }

    /** Whether each bad end was followed by a good one. */
    private static boolean isOver(List<Run> ran) {
        return ran.stream().filter(run -> Happening.isFault(run.state())).allMatch(bad -> ran.stream()
                .anyMatch(run -> run.jobId() == bad.jobId() && isAfter(run, bad) && Happening.isGood(run.state())));
    }

    private static boolean isAfter(Run run, Run other) {
        return run.finishedAt()
                .filter(end -> other.finishedAt().filter(end::isAfter).isPresent())
                .isPresent();
    }

    private Map<String, Object> item(String sentence, String path) {
        return Map.of("sentence", sentence.replaceAll("\\p{Cntrl}+", " "), "link", settings.url() + path);
    }
}
