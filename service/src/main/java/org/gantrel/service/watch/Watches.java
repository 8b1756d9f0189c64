package org.gantrel.service.watch;

import java.io.IOException;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.stream.Stream;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Expect;
import org.gantrel.core.text.Words;
import org.gantrel.core.trigger.FileWatch;
import org.gantrel.core.trigger.FolderCourse;
import org.gantrel.core.trigger.FolderCourse.Found;
import org.gantrel.core.trigger.FolderCourse.Known;
import org.gantrel.core.trigger.RowWatch;
import org.gantrel.core.trigger.Trigger;
import org.gantrel.service.expect.Silences;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.time.RepeatedFault;
import org.gantrel.service.time.Threads;
import org.gantrel.service.trigger.Listeners;
import org.gantrel.service.trigger.Listening;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;
import tools.jackson.databind.json.JsonMapper;

/**
 * Watches folders and queries for the triggers that wait for what comes there. What is new is written into the journal in the
 * transaction that remembers it, so that each file is told of once, whatever happens in between. Looks are made by threads of
 * their own, few of them for one team; a folder that hangs keeps nobody else from being looked at.
 */
@Component
class Watches implements SmartLifecycle {

    private static final Logger LOG = LoggerFactory.getLogger(Watches.class);
    private static final int LOOKS_AT_ONCE = 24;
    private static final int LOOKS_OF_A_TEAM = 6;
    private static final int TOGETHER = 500;
    private static final JsonMapper JSON = JsonMapper.shared();
    private static final int LONGEST_ROW = 15_000;
    /** Between the whole looks at a folder of whose changes the system tells. */
    private static final Duration NOW_AND_THEN = Duration.ofMinutes(10);

    private static final Duration USUAL_LOOK = Duration.ofSeconds(10);
    private static final Duration AFTER_TROUBLE = Duration.ofSeconds(15);
    private static final Duration LONGEST_SLEEP = Duration.ofSeconds(30);
    private static final Duration GATHERING = Duration.ofMillis(50);
    /** A look takes a hundredth of the time at most. */
    private static final int REST = 100;

    private static final Duration LONGEST_REST = Duration.ofMinutes(5);

    private static final String HANGS =
            "the look has not come back for two minutes; where it is at a folder of the" + " network, that may be gone";

    private static final int HINT_REST = 5;
    private static final Duration LONGEST_PAUSE = Duration.ofSeconds(5);

    private final RepeatedFault faults = new RepeatedFault(LOG);
    private final Listeners listeners;
    private final WatchMemory memory;
    private final Eyes eyes;
    private final Silences silences;
    private final Jobs jobs;
    private final Journal journal;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final Map<String, Watch> watches = new ConcurrentHashMap<>();
    private final Map<String, Integer> lookingForTeam = new HashMap<>();
    private final Object bell = new Object();
    private boolean rung;
    private ExecutorService lookers;
    private Inotify system;
    private volatile Thread thread;

    Watches(
            Listeners listeners,
            WatchMemory memory,
            Eyes eyes,
            Silences silences,
            Jobs jobs,
            Journal journal,
            TransactionTemplate transaction,
            Clock clock) {
        this.listeners = listeners;
        this.memory = memory;
        this.eyes = eyes;
        this.silences = silences;
        this.jobs = jobs;
        this.journal = journal;
        this.transaction = transaction;
        this.clock = clock;
        listeners.onChange(this::ring);
    }

    @Override
    public void start() {
        try {
            system = new Inotify();
        } catch (IOException e) {
            LOG.warn(
                    "the system does not tell of changes in folders ({}); they are looked at now and then",
                    e.toString());
        }
        lookers = Threads.pool("watch", LOOKS_AT_ONCE);
        thread = new Thread(this::run, "watches");
        thread.setDaemon(true);
        thread.start();
    }

    @Override
    public void stop() {
        thread = null;
        ring();
        lookers.shutdown();
        try {
            if (system != null) {
                system.close();
            }
        } catch (IOException e) {
            LOG.debug("it goes anyway", e);
        }
        watches.clear();
    }

    @Override
    public boolean isRunning() {
        return thread != null;
    }

    void ring() {
        synchronized (bell) {
            rung = true;
            bell.notifyAll();
        }
    }

    private void run() {
        while (thread == Thread.currentThread()) {
            try {
                Instant now = clock.instant();
                follow();
                watches.values().forEach(watch -> begin(watch, now));
                watches.values().stream()
                        .filter(watch -> watch.hangs(now))
                        .forEach(watch -> trouble(watch, new IOException(HANGS)));
            } catch (Throwable e) {
                faults.met("the thread of watches", e);
            }
            try {
                sleep();
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    private void sleep() throws InterruptedException {
        Instant now = clock.instant();
        Duration until = watches.values().stream()
                .map(Watch::due)
                .filter(due -> due.isBefore(now.plus(LONGEST_SLEEP)))
                .map(due -> Duration.between(now, due))
                .min(Duration::compareTo)
                .orElse(LONGEST_SLEEP);
        synchronized (bell) {
            if (!rung) {
                bell.wait(Math.max(GATHERING.toMillis(), until.toMillis()));
            }
            rung = false;
        }
        // what happens at the same time is looked at together
        Thread.sleep(GATHERING.toMillis());
    }

    /** Takes on triggers that are new, and lets go of those that are no more. */
    private void follow() {
        Map<String, Listening> wanted = new LinkedHashMap<>();
        Stream.of(EventType.values())
                .filter(type -> type.isWatched() || type == EventType.ROW_FOUND)
                .flatMap(type -> listeners.on(type).stream())
                .forEach(each -> wanted.put(each.address(), each));
        listeners.arrivals().forEach(each -> wanted.put(each.address(), each));
        watches.forEach((address, watch) -> {
            Listening now = wanted.get(address);
            if (now == null || !now.equals(watch.of())) {
                watches.remove(address);
                if (system != null) {
                    system.leave(watch);
                }
            }
        });
        boolean fewer = false;
        for (Map.Entry<String, Listening> each : wanted.entrySet()) {
            fewer |= !watches.containsKey(each.getKey());
            watches.computeIfAbsent(
                    each.getKey(), key -> new Watch(each.getValue(), looksAt(each.getValue()), this::ring));
        }
        if (fewer) {
            Set<String> keys = new HashSet<>();
            wanted.values()
                    .forEach(each -> keys.add(each.job() + "/" + each.trigger().name()));
            memory.all().stream()
                    .filter(record -> !keys.contains(record.jobId() + "/" + record.triggerName()))
                    .forEach(record -> memory.forget(record.jobId(), record.triggerName()));
        }
    }

    /** What a trigger looks at: another folder or pattern begins anew. */
    private static String looksAt(Listening each) {
        Trigger trigger = each.trigger();
        String text = trigger.source()
                .files()
                .map(files -> files.host() + ":" + files.folder() + " " + files.deepest() + " " + files.matching())
                .orElseGet(() -> {
                    RowWatch rows = trigger.source().rows().orElseThrow();
                    return rows.credential() + ": " + rows.key() + " " + rows.query();
                });
        String all = trigger.on().word() + " " + text;
        return all.length() <= 4_000 ? all : all.substring(0, 4_000);
    }

    private void begin(Watch watch, Instant now) {
        String team = watch.of().team();
        synchronized (lookingForTeam) {
            if (lookingForTeam.getOrDefault(team, 0) >= LOOKS_OF_A_TEAM || !watch.begin(now)) {
                return;
            }
            lookingForTeam.merge(team, 1, Integer::sum);
        }
        lookers.execute(() -> {
            long began = System.nanoTime();
            try {
                look(watch);
            } catch (Throwable e) {
                Duration took = Duration.ofNanos(System.nanoTime() - began);
                watch.failed(clock.instant().plus(isMissing(e) ? AFTER_TROUBLE : rest(AFTER_TROUBLE, took)));
                trouble(watch, e);
            } finally {
                synchronized (lookingForTeam) {
                    lookingForTeam.computeIfPresent(team, (key, count) -> count > 1 ? count - 1 : null);
                }
                ring();
            }
        });
    }

    private void trouble(Watch watch, Throwable e) {
        String why = e.getMessage() == null ? e.toString() : e.getMessage();
        boolean expected = e instanceof IOException || e instanceof SQLException;
        LOG.debug("{} cannot look", watch.of().address(), e);
        if (isMissing(e)) {
            watch.lookedOnce();
        }
        if (!expected) {
            LOG.warn("{} cannot look: {}", watch.of().address(), why);
        }
        try {
            transaction.executeWithoutResult(status -> {
                if (memory.find(watch.of(), watch.looksAt()).isEmpty()) {
                    memory.begin(watch.of(), watch.looksAt());
                }
                WatchRecord record = memory.record(watch.of());
                record.failed(why);
                // nothing comes where nobody can look either
                falls(watch.of(), record, clock.instant());
            });
        } catch (RuntimeException again) {
            LOG.debug("that cannot be noted", again);
        }
    }

    private void look(Watch watch) throws IOException, SQLException, InterruptedException {
        Listening of = watch.of();
        long began = System.nanoTime();
        if (watch.known() == null) {
            Optional<WatchRecord> before = memory.find(of, watch.looksAt());
            watch.know(
                    before.isPresent() ? memory.known(of) : new HashMap<>(),
                    before.filter(record -> record.lookedAt().isPresent()
                                    || record.trouble().startsWith(Eyes.NO_FOLDER))
                            .isEmpty());
        }
        Optional<FileWatch> files = of.trigger().source().files();
        Set<String> names = watch.take();
        boolean elsewhere = files.filter(each -> !each.host().isEmpty()).isPresent();
        boolean whole = names.isEmpty() || elsewhere;
        if (files.isPresent() && system != null && !watch.isHeard()) {
            // before it is looked at as a whole, so that nothing comes unheard in between
            boolean may = files.get().host().isEmpty()
                    && files.get().deepest() == 1
                    && files.get().lookEvery().isEmpty();
            watch.heard(may && system.listen(files.get().folder(), watch));
        }
        Sight sight = files.isEmpty()
                ? eyes.rows(of, of.trigger().source().rows().orElseThrow(), watch.known())
                : whole ? eyes.whole(of, files.get(), watch.known()) : eyes.some(of, files.get(), names);
        Instant now = clock.instant();
        FileWatch course = files.orElse(ROWS);
        FolderCourse.Result result = FolderCourse.look(
                files.isEmpty() ? EventType.FILE_ARRIVED : of.trigger().on(),
                course,
                watch.known(),
                sight.looked(),
                path -> sight.all().contains(path + course.marker()),
                watch.isFirst(),
                now);
        write(watch, sight, result, now);
        watch.lookedOnce();
        Set<String> unsettled = unsettled(watch, sight);
        Duration took = Duration.ofNanos(System.nanoTime() - began);
        Instant nextWhole = now.plus(every(of.trigger(), watch.isHeard(), took));
        Instant silence = silence(watch, now);
        watch.end(
                Stream.of(result.again().orElse(Instant.MAX), silence)
                        .min(Instant::compareTo)
                        .orElseThrow(),
                unsettled,
                now.plus(pause(took)),
                nextWhole.isAfter(silence) && silence.isAfter(now) ? silence : nextWhole);
    }

    /** What takes long is not done again and again; but nobody waits for ever because a host was busy once. */
    private static Duration rest(Duration usual, Duration took) {
        Duration wanted = took.multipliedBy(REST);
        Duration bounded = wanted.compareTo(LONGEST_REST) > 0 ? LONGEST_REST : wanted;
        return bounded.compareTo(usual) > 0 ? bounded : usual;
    }

    private static boolean isMissing(Throwable e) {
        return e.getMessage() != null && e.getMessage().startsWith(Eyes.NO_FOLDER);
    }

    /** However fast hints come, looks leave most of the time to others. */
    private static Duration pause(Duration took) {
        Duration wanted = took.multipliedBy(HINT_REST);
        return wanted.compareTo(LONGEST_PAUSE) > 0 ? LONGEST_PAUSE : wanted;
    }

    /** For keys of rows: they are complete as soon as they are there. */
    private static final FileWatch ROWS = new FileWatch(
            "/", List.of("*"), 1, Duration.ZERO, "", Optional.empty(), Optional.empty(), Optional.empty(), "");

    private static Duration every(Trigger trigger, boolean heard, Duration took) {
        Optional<Duration> said = trigger.source()
                .files()
                .flatMap(FileWatch::lookEvery)
                .or(() -> trigger.source().rows().map(RowWatch::lookEvery));
        if (said.isPresent()) {
            return said.get();
        }
        Duration usual = heard ? NOW_AND_THEN : USUAL_LOOK;
        return rest(usual, took);
    }

    /** Those of the paths that were looked at which are to be looked at again. */
    private static Set<String> unsettled(Watch watch, Sight sight) {
        Set<String> names = new HashSet<>();
        sight.looked().keySet().forEach(path -> {
            Known known = watch.known().get(path);
            if (known != null && !known.told()) {
                names.add(path);
            }
        });
        return names;
    }

    /** Writes what a look found and remembers it, some hundreds at a time. */
    private void write(Watch watch, Sight sight, FolderCourse.Result result, Instant now) {
        Map<String, Found> found = new HashMap<>();
        result.found().forEach(each -> found.put(each.path(), each));
        List<Map.Entry<String, Optional<Known>>> changes =
                new ArrayList<>(result.now().entrySet());
        transaction.executeWithoutResult(status -> {
            if (memory.find(watch.of(), watch.looksAt()).isEmpty()) {
                memory.begin(watch.of(), watch.looksAt());
            }
        });
        for (int from = 0; from < changes.size(); from += TOGETHER) {
            List<Map.Entry<String, Optional<Known>>> some =
                    changes.subList(from, Math.min(changes.size(), from + TOGETHER));
            transaction.executeWithoutResult(status -> {
                var remembered = new ArrayList<WatchMemory.Change>();
                for (Map.Entry<String, Optional<Known>> each : some) {
                    remembered.add(new WatchMemory.Change(each.getKey(), each.getValue()));
                    if (found.containsKey(each.getKey())) {
                        tell(watch.of(), found.get(each.getKey()), sight);
                    }
                }
                memory.remember(watch.of(), remembered);
            });
            some.forEach(each -> each.getValue()
                    .ifPresentOrElse(known -> watch.known().put(each.getKey(), known), () -> watch.known()
                            .remove(each.getKey())));
        }
        boolean came = result.came();
        boolean silent = transaction.execute(status -> {
            WatchRecord record = memory.record(watch.of());
            record.looked(now, came);
            if (came && listeners.arrivals().contains(watch.of())) {
                JobEntry job = jobs.withId(watch.of().job());
                silences.end(job, Expect.ARRIVALS, "something came for " + job.name());
            }
            return falls(watch.of(), record, now);
        });
        if (silent) {
            LOG.info("{}: nothing came", watch.of().address());
        }
    }

    /** Tells that nothing has come for long, once. */
    private boolean falls(Listening of, WatchRecord record, Instant now) {
        Optional<FileWatch> files = of.trigger().source().files();
        boolean due = of.trigger().on() == EventType.FOLDER_SILENT
                && !record.isSilent()
                && files.flatMap(FileWatch::silence)
                        .filter(silence -> !now.isBefore(record.cameAt().plus(silence)))
                        .isPresent();
        if (due) {
            record.fellSilent();
            Duration silent = Duration.between(record.cameAt(), now);
            String sentence = "nothing came as " + files.orElseThrow().words() + " for " + Words.duration(silent)
                    + (record.trouble().isEmpty() ? "" : "; " + record.trouble());
            if (listeners.arrivals().contains(of)) {
                silences.begin(jobs.withId(of.job()), Expect.ARRIVALS, record.cameAt(), sentence);
                return true;
            }
            journal.write(
                    EventType.FOLDER_SILENT.type(),
                    of.team(),
                    Map.of(
                            Listeners.FOR,
                            of.address(),
                            "job",
                            of.jobName(),
                            "folder",
                            files.orElseThrow().folder(),
                            "since",
                            record.cameAt().toString(),
                            "message",
                            sentence));
        }
        return due;
    }

    private Instant silence(Watch watch, Instant now) {
        Optional<Duration> silence = watch.of().trigger().source().files().flatMap(FileWatch::silence);
        return silence.flatMap(length -> memory.find(watch.of(), watch.looksAt())
                        .filter(record -> !record.isSilent())
                        .map(record -> record.cameAt().plus(length)))
                .filter(at -> at.isAfter(now))
                .orElse(Instant.MAX);
    }

    private void tell(Listening of, Found found, Sight sight) {
        Map<String, Object> about = new LinkedHashMap<>();
        about.put(Listeners.FOR, of.address());
        about.put("job", of.jobName());
        Optional<FileWatch> files = of.trigger().source().files();
        if (files.isEmpty()) {
            about.put("key", found.path());
            about.put("query", of.trigger().name());
            about.put("values", sight.values().getOrDefault(found.path(), Map.of()));
            if (JSON.writeValueAsString(about).length() > LONGEST_ROW) {
                // what is found is told of, and can be asked for by its key
                about.remove("values");
            }
        } else {
            String folder = files.get().folder();
            String name = found.path().substring(found.path().lastIndexOf('/') + 1);
            int dot = name.lastIndexOf('.');
            about.put("path", (folder.equals("/") ? "" : folder) + "/" + found.path());
            about.put("name", name);
            about.put("stem", dot > 0 ? name.substring(0, dot) : name);
            about.put("folder", folder);
            about.put("size", found.as().size());
            about.put("modified", found.as().modified().toString());
        }
        journal.write(of.trigger().on().type(), of.team(), about);
    }
}
