package org.gantrel.service.job;

import java.time.Clock;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.Definition;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.job.Job;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.change.Changes;
import org.gantrel.service.change.Revision;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionTemplate;

/** The jobs and their revisions. */
@Component
@Transactional
public class Jobs {

    private record RevisionKey(long job, int revision) {}

    private final JobStore store;
    private final JobRevisionStore revisions;
    private final Teams teams;
    private final Changes changes;
    private final Journal journal;
    private final ApplicationEventPublisher followers;
    private final Clock clock;

    /** Only what is not kept yet takes a transaction: the engine asks for jobs more often than for anything else. */
    private final TransactionTemplate reading;

    /** Revisions never change, so what was read once stays right. */
    private final CommittedCache<RevisionKey, Job> read = new CommittedCache<>(5_000);

    private final CommittedCache<Long, JobEntry> entries = new CommittedCache<>(20_000);

    Jobs(
            JobStore store,
            JobRevisionStore revisions,
            Teams teams,
            Changes changes,
            Journal journal,
            ApplicationEventPublisher followers,
            PlatformTransactionManager transactions,
            Clock clock) {
        this.reading = Transactions.reading(transactions);
        this.store = store;
        this.revisions = revisions;
        this.teams = teams;
        this.changes = changes;
        this.journal = journal;
        this.followers = followers;
        this.clock = clock;
    }

    /** The jobs in use of some teams, by name, whose name or purpose holds a text. */
    @Transactional(readOnly = true)
    List<JobEntry> search(Collection<Team> of, String text, String after, int limit) {
        String pattern = "%" + text.toLowerCase(Locale.ROOT).replaceAll("([!%_])", "!$1") + "%";
        return entries(store.search(of, pattern, after, Limit.of(limit)));
    }

    /** All jobs in use that a caller may see. */
    @Transactional(readOnly = true)
    public List<JobEntry> all(Caller caller) {
        return entries(store.search(caller.among(teams.all(), Deed.SEE_JOBS), "%", "", Limit.unlimited()));
    }

    /** All jobs, retired ones too. */
    @Transactional(readOnly = true)
    public List<JobEntry> allEver() {
        return entries(store.allEver());
    }

    /** All jobs in use. */
    @Transactional(readOnly = true)
    List<JobEntry> everything() {
        return entries(store.search(teams.all(), "%", "", Limit.unlimited()));
    }

    /** The jobs in use with a gate that waits for a calendar. */
    @Transactional(readOnly = true)
    public Stream<JobEntry> waitingFor(String calendar) {
        return everything().stream().filter(job -> current(job).rules().gates().all().stream()
                .anyMatch(gate ->
                        gate instanceof Gate.InCalendar in && in.calendar().equals(calendar)));
    }

    @Transactional(readOnly = true)
    public Optional<JobEntry> named(String name) {
        return store.named(name).map(JobRecord::value);
    }

    /** The record of a job that is known to be there. */
    @Transactional(propagation = Propagation.SUPPORTS)
    public JobEntry withId(long id) {
        return entries.get(
                id,
                key -> reading.execute(begun -> store.withId(key).orElseThrow().value()));
    }

    /** The name of the team that owns a job; asked for with every change of a run, so it is kept. */
    @Transactional(propagation = Propagation.SUPPORTS)
    public String teamOf(long id) {
        return withId(id).team();
    }

    /**
     * A job that a caller may see.
     *
     * @throws Refusal where there is none; it offers the nearest name
     */
    @Transactional(readOnly = true)
    public JobEntry visible(Caller caller, String name) {
        Optional<JobEntry> job = named(name).filter(found -> caller.may(Deed.SEE_JOBS, found.team()));
        return job.orElseThrow(() -> Refusal.notFound("there is no job '" + brief(name) + "'"
                + Nearest.hint(name, store.names(caller.among(teams.all(), Deed.SEE_JOBS)))));
    }

    /** What a job does as of its latest revision. */
    @Transactional(propagation = Propagation.SUPPORTS)
    public Job current(JobEntry job) {
        return at(job, job.revision());
    }

    /** What a job did as of one of its revisions. */
    @Transactional(propagation = Propagation.SUPPORTS)
    public Job at(JobEntry job, int revision) {
        return at(job.id(), revision);
    }

    /** The same by the job's id. */
    @Transactional(propagation = Propagation.SUPPORTS)
    public Job at(long job, int revision) {
        return read.get(
                new RevisionKey(job, revision),
                key -> DefinitionReader.readKept(reading.execute(begun -> text(withId(job), revision))));
    }

    /** Of the jobs that were changed since a moment, the oldest revision that one of its runs may have had then. */
    @Transactional(readOnly = true)
    Map<Long, Integer> oldestSince(Instant since) {
        Map<Long, Integer> oldest = new HashMap<>();
        revisions.firstSince(since).forEach(each -> oldest.put(each.job(), Math.max(1, each.revision() - 1)));
        return oldest;
    }

    /** A job as it was as of one of its revisions. */
    @Transactional(propagation = Propagation.SUPPORTS)
    public JobEntry asOf(long id, int revision) {
        JobEntry now = withId(id);
        return revision == now.revision()
                ? now
                : new JobEntry(
                        id,
                        now.name(),
                        now.teamId(),
                        now.team(),
                        JobRecord.kind(at(id, revision)),
                        now.about(),
                        revision,
                        now.isRetired());
    }

    /** The definition of a revision as it was written. */
    @Transactional(readOnly = true)
    public String text(JobEntry job, int revision) {
        return revision(job, revision).definition();
    }

    /** The name of who saved a job last. */
    @Transactional(readOnly = true)
    public String savedBy(JobEntry job) {
        return revision(job, job.revision()).madeBy();
    }

    /** When a job was first saved. */
    @Transactional(readOnly = true)
    public Instant madeAt(JobEntry job) {
        return first(job).madeAt();
    }

    /** The first revision of a job, or the latest where that is not known. */
    @Transactional(readOnly = true)
    public Revision.View first(JobEntry job) {
        return revisions
                .findByJobIdAndRevision(job.id(), 1)
                .orElseGet(() -> revision(job, job.revision()))
                .view();
    }

    /** The revision that held at an instant; nothing before the first one. */
    @Transactional(readOnly = true)
    public Optional<Revision.View> heldAt(JobEntry job, Instant at) {
        return revisions
                .findFirstByJobIdAndMadeAtLessThanEqualOrderByRevisionDesc(job.id(), at)
                .map(Revision::view);
    }

    /** Who made a revision, when, and as what. */
    @Transactional(readOnly = true)
    public Revision.View revisionView(JobEntry job, int revision) {
        return revision(job, revision).view();
    }

    @Transactional(readOnly = true)
    JobRevision revision(JobEntry job, int revision) {
        return revisions
                .findByJobIdAndRevision(job.id(), revision)
                .orElseThrow(() -> Refusal.notFound("the job " + job.name() + " has no revision " + revision
                        + "; its latest is " + job.revision()));
    }

    @Transactional(readOnly = true)
    List<JobRevision> revisions(JobEntry job) {
        return revisions.findTop100ByJobIdOrderByRevisionDesc(job.id());
    }

    /** Makes a job, or gives it a new revision. The caller must be allowed to, and the definition must be right. */
    public JobEntry save(Caller caller, Definition definition) {
        Job job = definition.job();
        Team team = teams.named(job.team()).orElseThrow();
        caller.require(Deed.DEFINE_JOBS, team.name());
        Optional<JobRecord> known = store.named(job.name());
        known.ifPresent(record -> caller.require(Deed.DEFINE_JOBS, record.team().name()));
        JobRecord record = known.orElseGet(() -> new JobRecord(job.name()));
        record.revise(job, team);
        store.saveAndFlush(record);
        entries.changed(record.id());
        read.changed(new RevisionKey(record.id(), record.revision()));
        revisions.save(new JobRevision(record, definition.text(), caller.name(), clock.instant()));
        changes.record(
                caller,
                known.isPresent() ? "changed" : "created",
                "job",
                record.name(),
                team.name(),
                "revision " + record.revision());
        followers.publishEvent(new JobSaved(record.value(), job));
        journal.write("gantrel.job.changed", team.name(), Map.of("job", record.name(), "revision", record.revision()));
        return record.value();
    }

    /** Takes a job out of use: it is listed and started no more, and its history stays. */
    public void retire(Caller caller, JobEntry job) {
        caller.require(Deed.RETIRE_JOBS, job.team());
        JobRecord record = store.findById(job.id()).orElseThrow();
        record.retire();
        entries.changed(record.id());
        changes.record(caller, "retired", "job", record.name(), job.team(), "");
        followers.publishEvent(new JobRetired(record.value()));
        journal.write("gantrel.job.changed", job.team(), Map.of("job", record.name()));
    }

    private static List<JobEntry> entries(List<JobRecord> records) {
        return records.stream().map(JobRecord::value).toList();
    }

    private static String brief(String name) {
        return name.length() <= Job.LONGEST_NAME ? name : name.substring(0, Job.LONGEST_NAME) + "...";
    }
}
