package org.gantrel.service.work;

import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.gantrel.core.job.Job;
import org.gantrel.service.beside.Beginning;
import org.gantrel.service.job.Lookahead;
import org.gantrel.service.work.ActionExecutor.Rehearsed;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.stereotype.Component;

/** Asks what jobs reach, all of them side by side, for as long as people will wait for a save. */
@Component
class RehearsalAtSave implements Lookahead, DisposableBean {

    private static final Duration PATIENCE = Duration.ofSeconds(2);
    private static final int AT_ONCE = 8;
    private static final String LATE = "what it reaches did not answer within " + PATIENCE.toSeconds()
            + " seconds, so it is not known whether it would go well; a rehearsal waits longer";

    private final Rehearsals rehearsals;
    private final Clock clock;
    private final Duration patience;
    private final ExecutorService threads;

    @Autowired
    RehearsalAtSave(Rehearsals rehearsals, Clock clock) {
        this(rehearsals, clock, PATIENCE);
    }

    /** @param patience how long others are waited for */
    RehearsalAtSave(Rehearsals rehearsals, Clock clock, Duration patience) {
        this.patience = patience;
        this.rehearsals = rehearsals;
        this.clock = clock;
        this.threads = Executors.newFixedThreadPool(AT_ONCE, task -> {
            var thread = new Thread(task, "lookahead");
            thread.setDaemon(true);
            return thread;
        });
    }

    @Override
    public List<List<String>> warnings(List<Job> jobs) {
        // elapsed time, which the clock of schedules says nothing of
        long begin = System.nanoTime();
        List<Future<List<Rehearsed>>> asked = jobs.stream()
                .map(job -> rehearsals.before(job, clock.instant()))
                .map(look -> threads.submit(look::get))
                .toList();
        return asked.stream().map(each -> answer(each, begin)).toList();
    }

    private List<String> answer(Future<List<Rehearsed>> asked, long begin) {
        try {
            return outcome(asked, begin).stream().map(RehearsalAtSave::sentence).toList();
        } catch (TimeoutException e) {
            asked.cancel(true);
            return List.of(LATE);
        } catch (ExecutionException e) {
            return List.of(String.valueOf(e.getCause().getMessage()));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return List.of(LATE);
        }
    }

    private List<Rehearsed> outcome(Future<List<Rehearsed>> asked, long begin)
            throws InterruptedException, ExecutionException, TimeoutException {
        while (true) {
            // a process may have begun since
            long left = left(begin);
            try {
                return asked.get(Math.max(0, left), TimeUnit.NANOSECONDS);
            } catch (TimeoutException e) {
                if (left(begin) <= 0) {
                    throw e;
                }
            }
        }
    }

    private long left(long begin) {
        return patience.toNanos() - Beginning.elapsed(begin);
    }

    /** What keeps a command from starting names the program already. */
    private static String sentence(Rehearsed line) {
        return switch (line.what()) {
            case "program", "identity", "host" -> line.text();
            default -> line.what() + ": " + line.text();
        };
    }

    @Override
    public void destroy() {
        threads.shutdownNow();
    }
}
