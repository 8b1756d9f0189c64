package org.gantrel.service.git;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.gantrel.core.text.Words;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.settings.Settings;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * The processes that work on copies of repositories: each does one thing at a time, and is kept for what comes next. One that
 * took too much memory or time is ended, which costs nobody but who asked.
 */
@Component
class GitProcesses {

    /** So many work at a time, and so many of them for one team. */
    private static final int AT_ONCE = 4;

    private static final int OF_ONE_TEAM = 2;

    private static final Logger LOG = LoggerFactory.getLogger(GitProcesses.class);
    private static final Pattern PART = Pattern.compile("(incoming_|noz|gc_).*|commit_.*_tmp|part\\d+|.*\\.part");
    private static final int DEEP = 16;

    private final Settings settings;
    private final Semaphore places = new Semaphore(AT_ONCE, true);
    private final Map<String, Semaphore> ofTeams = new ConcurrentHashMap<>();
    private final Deque<GitProcess> idle = new ArrayDeque<>();

    GitProcesses(Settings settings) {
        this.settings = settings;
    }

    /**
     * Has something done.
     *
     * @param team for whom
     * @param late whether there is no time left
     * @throws SourceRefused where the repository does not have what is asked for, or takes more memory than it may
     * @throws GitProcess.Late where there was not time enough
     */
    Talk.Answer ask(String team, Talk.Ask ask, GitProcess.Host host, BooleanSupplier late)
            throws IOException, InterruptedException {
        Semaphore ofTeam = ofTeams.computeIfAbsent(team, each -> new Semaphore(OF_ONE_TEAM, true));
        take(ofTeam, ask, late);
        try {
            take(places, ask, late);
            try {
                return withProcess(ask, host, late);
            } finally {
                places.release();
            }
        } finally {
            ofTeam.release();
        }
    }

    private static void take(Semaphore places, Talk.Ask ask, BooleanSupplier late)
            throws IOException, InterruptedException {
        while (!places.tryAcquire(100, TimeUnit.MILLISECONDS)) {
            if (late.getAsBoolean()) {
                throw new IOException("so many repositories are read that there was no place for "
                        + ask.source().address() + " within "
                        + Words.duration(ask.source().patience()));
            }
        }
    }

    private Talk.Answer withProcess(Talk.Ask ask, GitProcess.Host host, BooleanSupplier late)
            throws IOException, InterruptedException {
        assert Transactions.none() : "another system is asked in a transaction";
        while (true) {
            GitProcess process = process();
            boolean whole = false;
            boolean again = process.isUsed();
            try {
                Talk.Answer answer = process.ask(ask, host, late);
                whole = true;
                return checked(answer);
            } catch (GitProcess.Gone e) {
                if (e.isOutOfMemory()) {
                    throw new SourceRefused("the repository at " + ask.source().address()
                            + " is too large to be taken: it needs more than " + GitProcess.MEMORY
                            + " MB of memory to be put together");
                }
                if (!again) {
                    throw e;
                }
                LOG.debug("a process for repositories had ended; another is asked", e);
            } finally {
                giveBack(process, whole, Path.of(ask.folder()));
            }
        }
    }

    private static Talk.Answer checked(Talk.Answer answer) throws IOException {
        if (!answer.trouble().isEmpty()) {
            throw answer.refused() ? new SourceRefused(answer.trouble()) : new IOException(answer.trouble());
        }
        return answer;
    }

    private synchronized GitProcess process() throws IOException {
        while (!idle.isEmpty()) {
            GitProcess process = idle.pop();
            if (process.isAlive()) {
                return process;
            }
        }
        return new GitProcess(Files.createDirectories(settings.data().resolve("tmp")));
    }

    private void giveBack(GitProcess process, boolean whole, Path copy) {
        if (whole && process.isAlive()) {
            synchronized (this) {
                idle.push(process);
            }
            return;
        }
        process.close();
        if (!whole) {
            clean(copy);
        }
    }

    /** Removes what a process left that was ended while it wrote: locks, and parts of files. */
    static void clean(Path copy) {
        if (!Files.isDirectory(copy)) {
            return;
        }
        try (Stream<Path> all = Files.walk(copy, DEEP)) {
            for (Path each : all.filter(GitProcesses::isPart).toList()) {
                Files.deleteIfExists(each);
            }
        } catch (IOException e) {
            LOG.debug("{} stays as it is", copy, e);
        }
    }

    private static boolean isPart(Path file) {
        String name = file.getFileName().toString();
        // no name of a branch or tag ends like that of a lock (git-check-ref-format(1)), but it may be like the others
        return Files.isRegularFile(file)
                && (name.endsWith(".lock")
                        || !file.toString().contains("/refs/")
                                && PART.matcher(name).matches());
    }

    @PreDestroy
    synchronized void close() {
        idle.forEach(GitProcess::close);
        idle.clear();
    }
}
