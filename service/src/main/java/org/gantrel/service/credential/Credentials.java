package org.gantrel.service.credential;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.credential.DatabaseAddress;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.change.Changes;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.secret.Seal;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** The identities that runs act as. Who may keep one and whose jobs may use it are two things. */
@Component
@Transactional
public class Credentials {

    private static final JsonMapper JSON = JsonMapper.shared();
    private static final int WARNED_DAYS_AHEAD = 21;

    /**
     * What is to be kept.
     *
     * @param secrets null leaves those that are there
     */
    public record Draft(
            String team,
            CredentialKind kind,
            String about,
            Map<String, String> facts,
            Map<String, String> secrets,
            LocalDate expiresOn,
            List<String> teams,
            List<String> jobs) {}

    private final CredentialStore store;
    private final Teams teams;
    private final Seal seal;
    private final Changes changes;
    private final Settings settings;
    private final Journal journal;
    private final Clock clock;

    Credentials(
            CredentialStore store,
            Teams teams,
            Seal seal,
            Changes changes,
            Settings settings,
            Journal journal,
            Clock clock) {
        this.journal = journal;
        this.settings = settings;
        this.store = store;
        this.teams = teams;
        this.seal = seal;
        this.changes = changes;
        this.clock = clock;
    }

    /** Those that a caller may know of: their team's own, and those that their team may use. */
    @Transactional(readOnly = true)
    List<CredentialRecord> visible(Caller caller) {
        return store.everything().stream().filter(each -> sees(caller, each)).toList();
    }

    @Transactional(readOnly = true)
    CredentialRecord visible(Caller caller, String name) {
        return store.named(name)
                .filter(each -> sees(caller, each))
                .orElseThrow(() -> Refusal.notFound("there is no credential '" + name + "'"
                        + Nearest.hint(
                                name,
                                visible(caller).stream()
                                        .map(CredentialRecord::name)
                                        .toList())));
    }

    private static boolean sees(Caller caller, CredentialRecord record) {
        return Stream.concat(Stream.of(record.team().name()), record.forTeams().stream())
                .anyMatch(team -> caller.may(Deed.SEE_CREDENTIALS, team));
    }

    @Transactional(readOnly = true)
    private void tell(String name, String team, String what) {
        journal.write(
                EventType.CREDENTIAL_CHANGED.type(),
                team,
                Map.of("name", name, "what", what, "message", "the credential " + name + " was " + what));
    }

    /** The credentials that end soon or have ended, with what is to be said of each and whose it is. */
    @Transactional(readOnly = true)
    public List<Expiring> expiring() {
        return store.everything().stream()
                .flatMap(record -> expiry(record)
                        .map(message -> new Expiring(
                                record.name(),
                                record.team().name(),
                                record.expiresOn().orElseThrow(),
                                message))
                        .stream())
                .toList();
    }

    /** A credential that ends soon or has ended. */
    public record Expiring(String name, String team, LocalDate on, String message) {}

    boolean isKnown(String name) {
        return store.named(name).isPresent();
    }

    /** Keeps a new credential, or changes one. All that is wrong is said at once. */
    public void keep(Caller caller, String name, Draft draft) {
        save(caller, name, draft);
    }

    CredentialRecord save(Caller caller, String name, Draft draft) {
        Optional<CredentialRecord> known = store.named(name);
        known.ifPresent(
                record -> caller.require(Deed.KEEP_CREDENTIALS, record.team().name()));
        check(caller, name, draft, known);
        Team team = teams.named(draft.team()).orElseThrow();
        caller.require(Deed.KEEP_CREDENTIALS, team.name());
        if (draft.kind() == CredentialKind.ACCOUNT) {
            // whoever may name an account may become it, the privileged one too
            caller.require(Deed.KEEP_ACCOUNTS);
        }
        CredentialRecord record = known.orElseGet(() -> new CredentialRecord(name));
        record.revise(team, draft.kind(), draft.about(), JSON.writeValueAsString(draft.facts()), caller.name());
        record.allow(draft.teams(), draft.jobs(), draft.expiresOn());
        if (draft.secrets() != null || known.isEmpty()) {
            keep(caller, record, draft.secrets() == null ? Map.of() : draft.secrets());
        }
        store.save(record);
        changes.record(
                caller,
                known.isPresent() ? "changed" : "created",
                "credential",
                name,
                team.name(),
                draft.kind().word());
        tell(name, team.name(), known.isPresent() ? "changed" : "created");
        return record;
    }

    /** Puts a new secret in the place of the old one; jobs that act as the credential take it from their next start on. */
    CredentialRecord rotate(Caller caller, String name, Map<String, String> secrets) {
        CredentialRecord record = visible(caller, name);
        caller.require(Deed.KEEP_CREDENTIALS, record.team().name());
        List<Problem> problems = record.kind().secretComplaints(secrets);
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        keep(caller, record, secrets);
        changes.record(caller, "rotated", "credential", name, record.team().name(), "");
        tell(name, record.team().name(), "rotated");
        return record;
    }

    void delete(Caller caller, String name) {
        CredentialRecord record = visible(caller, name);
        caller.require(Deed.KEEP_CREDENTIALS, record.team().name());
        store.delete(record);
        changes.record(caller, "deleted", "credential", name, record.team().name(), "");
        tell(name, record.team().name(), "deleted");
    }

    private void keep(Caller caller, CredentialRecord record, Map<String, String> secrets) {
        record.keep(seal.seal(JSON.writeValueAsString(secrets)), caller.name(), clock.instant());
    }

    private void check(Caller caller, String name, Draft draft, Optional<CredentialRecord> known) {
        var problems = new ArrayList<Problem>();
        if (!name.matches(Job.NAME) || name.length() > Job.LONGEST_NAME) {
            problems.add(Problem.of("name", "'" + name + "' is no name: lower-case letters, digits and single dashes"));
        }
        teams.unknown(caller, draft.team()).ifPresent(complaint -> problems.add(Problem.of("team", complaint)));
        draft.teams().stream()
                .filter(team -> teams.named(team).isEmpty())
                .forEach(team -> problems.add(Problem.of("teams", teams.none(caller, team))));
        known.filter(record -> record.kind() != draft.kind())
                .ifPresent(record -> problems.add(Problem.of(
                        "kind", "a credential keeps its kind, " + record.kind().word())));
        problems.addAll(draft.kind().complaints(draft.facts()));
        if (draft.secrets() != null || known.isEmpty()) {
            problems.addAll(draft.kind().secretComplaints(draft.secrets() == null ? Map.of() : draft.secrets()));
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
    }

    /** What speaks against any use by a team; nothing where some of its jobs may act as it. */
    @Transactional(readOnly = true)
    public Optional<String> complaint(String name, String team) {
        List<String> usable = store.everything().stream()
                .filter(each -> each.isFor(team))
                .map(CredentialRecord::name)
                .toList();
        return usable.contains(name)
                ? Optional.empty()
                : Optional.of("there is no credential '" + name + "' that is for the team " + team
                        + Nearest.hint(name, usable));
    }

    /**
     * The same as a person is told of it who saves a job: a credential that they may not know of is as good as not there.
     */
    @Transactional(readOnly = true)
    public Optional<String> complaint(Caller caller, String name, String team, String job) {
        return complaint(name, team, job)
                .map(complaint ->
                        store.named(name).filter(record -> sees(caller, record)).isPresent()
                                ? complaint
                                : "there is no credential '" + name + "'" + Nearest.hint(name, usable(team, job)));
    }

    /** What speaks against a job's use of a credential; nothing where it may act as it. */
    @Transactional(readOnly = true)
    public Optional<String> complaint(String name, String team, String job) {
        Optional<CredentialRecord> record = store.named(name);
        if (record.isEmpty() || !record.get().isFor(team, job)) {
            List<String> usable = usable(team, job);
            return Optional.of(
                    record.isEmpty()
                            ? "there is no credential '" + name + "'" + Nearest.hint(name, usable)
                            : "the job " + job + " of the team " + team + " may not use the credential '" + name
                                    + "'; the team " + record.get().team().name() + " decides that");
        }
        return Optional.empty();
    }

    private List<String> usable(String team, String job) {
        return store.everything().stream()
                .filter(each -> each.isFor(team, job))
                .map(CredentialRecord::name)
                .toList();
    }

    /** What is wrong with a credential, or will soon be. */
    @Transactional(readOnly = true)
    public Optional<String> warning(String name) {
        return store.named(name).flatMap(this::warning);
    }

    Optional<String> warning(CredentialRecord record) {
        Optional<String> address = record.kind() == CredentialKind.DATABASE
                ? DatabaseAddress.complaint(
                        facts(record).getOrDefault("url", ""), settings.reach().databases())
                : Optional.empty();
        return address.or(() -> expiry(record));
    }

    private Optional<String> expiry(CredentialRecord record) {
        LocalDate today = LocalDate.ofInstant(clock.instant(), ZoneOffset.UTC);
        return record.expiresOn()
                .filter(day -> day.isBefore(today.plusDays(WARNED_DAYS_AHEAD)))
                .map(day -> "the credential " + record.name() + (day.isBefore(today) ? " expired on " : " expires on ")
                        + day + "; rotate it and set the new date");
    }

    /**
     * Opens a credential for a run, and writes that down.
     *
     * @throws Refusal where the job may not use it
     */
    public Credential use(String name, String team, String job, String purpose) {
        CredentialRecord record = usable(name, team, job, purpose);
        record.used(clock.instant());
        return open(record);
    }

    /** The same for somebody whose use is written down already, and who comes again and again. */
    @Transactional(readOnly = true)
    public Credential useAgain(String name, String team, String job) {
        complaint(name, team, job).ifPresent(message -> {
            throw Refusal.notAllowed(message);
        });
        return open(store.named(name).orElseThrow());
    }

    /**
     * The same for a rehearsal, which is in the audit record too. The credential itself is left as it is: a run that
     * uses it meanwhile must not wait for a rehearsal that asks other systems.
     */
    public Credential useToRehearse(String name, String team, String job) {
        return open(usable(name, team, job, "rehearsal of " + job));
    }

    private CredentialRecord usable(String name, String team, String job, String purpose) {
        complaint(name, team, job).ifPresent(message -> {
            throw Refusal.notAllowed(message);
        });
        CredentialRecord record = store.named(name).orElseThrow();
        changes.record(
                Caller.service(), "used", "credential", name, record.team().name(), purpose);
        return record;
    }

    Credential open(CredentialRecord record) {
        return new Credential(record.name(), record.kind(), facts(record), values(seal.open(record.sealed())));
    }

    /** The identity behind a name, without opening it: for showing. */
    @Transactional(readOnly = true)
    public Optional<Credential> shown(String name) {
        return Optional.of(name)
                .filter(each -> !each.isEmpty())
                .flatMap(store::named)
                .map(record -> new Credential(record.name(), record.kind(), facts(record), Map.of()));
    }

    static Map<String, String> facts(CredentialRecord record) {
        return values(record.facts());
    }

    /** Seals every secret again under the newest key. */
    int sealAgain() {
        List<CredentialRecord> all = store.everything();
        all.forEach(record -> record.seal(seal.seal(seal.open(record.sealed()))));
        return all.size();
    }

    private static Map<String, String> values(String json) {
        return json.isEmpty() ? Map.of() : JSON.readValue(json, new TypeReference<LinkedHashMap<String, String>>() {});
    }
}
