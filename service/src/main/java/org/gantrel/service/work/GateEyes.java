package org.gantrel.service.work;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.IOException;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.gate.Gates.Look;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.Item;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.execution.AccountHands;
import org.gantrel.service.execution.Actors;
import org.gantrel.service.execution.RunFolder;
import org.gantrel.service.gate.GateSight;
import org.gantrel.service.places.FileTrouble;
import org.gantrel.service.places.Hands;
import org.gantrel.service.remote.RemoteCommands;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/** Looks at gates as the task that waits would: as its account, within its team's folders, with its credentials. */
@Component
class GateEyes implements GateSight {

    /** A database that is slower is asked again at the next look. */
    private static final Duration LONGEST_ANSWER = Duration.ofMinutes(5);

    private static final int MOST_REMEMBERED = 20_000;

    /** More than will wait at once: what is forgotten counts anew. */
    private static final int MOST_STEADY = 100_000;

    /** Since when a file has had its size and time, or a host has been below a load; forgotten by a restart. */
    private record Since(String state, Instant at) {}

    private final CheckExecutor checks;
    private final Actors actors;
    private final AccountHands hands;
    private final HostFacts there;
    private final RunValues values;
    private final Runs runs;
    private final Settings settings;
    private final Clock clock;
    private final Cache<String, Since> steady =
            Caffeine.newBuilder().maximumSize(MOST_STEADY).build();
    private final Cache<String, Boolean> writtenDown =
            Caffeine.newBuilder().maximumSize(MOST_REMEMBERED).build();

    GateEyes(
            CheckExecutor checks,
            Actors actors,
            AccountHands hands,
            RemoteCommands remote,
            RunValues values,
            Runs runs,
            Settings settings,
            Clock clock) {
        this.checks = checks;
        this.actors = actors;
        this.hands = hands;
        this.there = new HostFacts(remote);
        this.values = values;
        this.runs = runs;
        this.settings = settings;
        this.clock = clock;
    }

    @Override
    public <T> T during(Run run, Function<Eyes, T> looking) throws IOException {
        Job job = runs.jobOf(run);
        var covered = List.copyOf(values.secrets(run).values());
        try (var work = new Execution(
                run,
                RunFolder.of(settings.runsFolder(), run.number()),
                covered,
                Optional.empty(),
                name -> credential(name, (Job.Task) job, run),
                () -> hands.of(job.team(), job))) {
            work.isALook(LONGEST_ANSWER);
            return looking.apply(gate -> {
                Look look = look(run, gate, work);
                return new Look(look.open(), work.cover(look.saw()));
            });
        }
    }

    /** Its use by a run is written down at the first look, not at each of thousands. */
    private Credential credential(String name, Job.Task task, Run run) {
        if (writtenDown.getIfPresent(run.number() + " " + name) != null) {
            return actors.openAgain(name, task);
        }
        Credential opened = actors.open(name, task, run);
        writtenDown.put(run.number() + " " + name, true);
        return opened;
    }

    private Look look(Run run, Gate gate, Execution work) throws InterruptedException {
        try {
            if (gate instanceof Gate.FileThere file) {
                return file(run, file, work);
            }
            if (gate instanceof Gate.FreeSpace space) {
                return space(space, work);
            }
            if (gate instanceof Gate.Load load) {
                return load(run, load, work);
            }
            Item item = checks.look(((Gate.Expected) gate).check(), work);
            return new Look(item.state() == RunState.SUCCEEDED, item.seen());
        } catch (NoSuchFileException e) {
            return new Look(
                    false, gate instanceof Gate.FileThere file && file.glob() ? "none is there" : "it is not there");
        } catch (FileSystemException e) {
            return new Look(false, FileTrouble.sentence(e));
        } catch (IOException | WorkFailed e) {
            return new Look(false, e.getMessage());
        }
    }

    private Look file(Run run, Gate.FileThere gate, Execution work) throws IOException, InterruptedException {
        HostFacts.Seen seen = seen(gate, work).orElseThrow(() -> new NoSuchFileException(gate.path()));
        // the file's own clock may be another, so that it has to look the same for as long
        Duration same = steadySince(run.number() + gate.host() + gate.path(), seen.state(), clock.instant());
        Duration unchanged = same.compareTo(seen.age()) > 0 ? same : seen.age();
        boolean settled = unchanged.compareTo(gate.settled()) >= 0;
        String what = gate.glob()
                ? Words.count(seen.files(), "file") + " with " + Words.count(seen.size(), "byte")
                : "it has " + Words.count(seen.size(), "byte");
        String rest = settled
                ? ""
                : (gate.glob() ? "; the latest was changed " : ", and was changed ") + Words.duration(unchanged)
                        + " ago; " + Words.duration(gate.settled()) + " of rest are wanted";
        return new Look(settled, what + rest);
    }

    private Optional<HostFacts.Seen> seen(Gate.FileThere gate, Execution work)
            throws IOException, InterruptedException {
        if (!gate.host().isEmpty()) {
            Credential on = host(gate, work);
            return gate.glob() ? there.files(on, gate.folder(), gate.name()) : there.file(on, gate.path());
        }
        if (!gate.glob()) {
            return Optional.of(here(work.hands().look(gate.path())));
        }
        if (!work.hands().isFolder(gate.folder())) {
            return Optional.empty();
        }
        List<Hands.Entry> files = work.hands().list(gate.folder(), List.of(gate.name()), 1);
        return files.stream()
                .max(Comparator.comparing(Hands.Entry::modified))
                .map(latest -> new HostFacts.Seen(
                        files.size(),
                        files.stream().mapToLong(Hands.Entry::size).sum(),
                        String.valueOf(files.hashCode()),
                        Duration.between(latest.modified(), clock.instant())));
    }

    private HostFacts.Seen here(Hands.Entry entry) {
        return new HostFacts.Seen(
                1,
                entry.size(),
                entry.size() + " " + entry.modified(),
                Duration.between(entry.modified(), clock.instant()));
    }

    private static Credential host(Gate gate, Execution work) throws IOException {
        return work.credential(gate.host()).orElseThrow();
    }

    private Look space(Gate.FreeSpace gate, Execution work) throws IOException, InterruptedException {
        Optional<Long> free = gate.host().isEmpty()
                ? freeHere(gate.under(), work.hands())
                : there.free(host(gate, work), gate.under());
        return free.map(bytes -> new Look(bytes >= gate.bytes(), Words.bytes(bytes) + " are free"))
                .orElseGet(() -> new Look(false, "there is no folder " + gate.under()));
    }

    private static Optional<Long> freeHere(String folder, Hands at) throws IOException {
        return at.isFolder(folder)
                ? Optional.of(Files.getFileStore(Path.of(folder)).getUsableSpace())
                : Optional.empty();
    }

    private Look load(Run run, Gate.Load gate, Execution work) throws IOException, InterruptedException {
        String text = gate.host().isEmpty() ? Files.readString(Path.of("/proc/loadavg")) : there.load(host(gate, work));
        String first = text.strip().split("\\s+")[0];
        if (!first.matches("\\d+(\\.\\d+)?")) {
            return new Look(false, "the host does not say its load");
        }
        boolean below = Double.parseDouble(first) < gate.below().doubleValue();
        Duration since = steadySince(
                run.number() + " load " + gate.below() + " " + gate.host(), String.valueOf(below), clock.instant());
        boolean enough = since.compareTo(gate.during()) >= 0;
        return new Look(below && enough, "it is " + first + (below && !enough ? ", for " + Words.duration(since) : ""));
    }

    private Duration steadySince(String what, String state, Instant now) {
        Since since = steady.asMap()
                .compute(
                        what,
                        // where the clock was put back it counts from then
                        (key, known) -> known == null
                                        || !known.state().equals(state)
                                        || known.at().isAfter(now)
                                ? new Since(state, now)
                                : known);
        return Duration.between(since.at(), now);
    }
}
