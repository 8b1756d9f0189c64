package org.gantrel.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.function.Supplier;
import org.gantrel.core.job.Job;
import org.gantrel.service.beside.Beside;
import org.gantrel.service.work.ActionExecutor.Rehearsed;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("A look at what a saved job reaches")
class RehearsalAtSaveTest {

    private static final Duration PATIENCE = Duration.ofMillis(1);

    private final Rehearsals rehearsals = mock(Rehearsals.class);
    private final RehearsalAtSave looks = new RehearsalAtSave(rehearsals, Clock.systemUTC(), PATIENCE);

    @TempDir
    Path folder;

    @AfterEach
    void end() {
        looks.destroy();
    }

    /** A program that says nothing until it is ended. */
    static final class Silent {
        public static void main(String[] arguments) throws Exception {
            System.in.read();
        }
    }

    @Test
    @DisplayName("has its time without what a process of the service takes to begin")
    void doesNotCountBeginnings() throws Exception {
        Beside.Started started = Beside.start(Silent.class, 16, folder, List.of());
        assertThat(Path.of("/proc/" + started.process().pid() + "/oom_score_adj"))
                .as("it goes before the service where memory runs out")
                .content()
                .isEqualTo("300\n");
        try {
            assertThat(said(() -> after(Duration.ofMillis(100)))).containsExactly("database: refused");
        } finally {
            started.beginning().over();
            started.process().destroyForcibly();
        }
        var never = new CountDownLatch(1);
        assertThat(said(() -> {
                    try {
                        never.await();
                    } catch (InterruptedException e) {
                        Thread.currentThread().interrupt();
                    }
                    return List.of();
                }))
                .singleElement()
                .asString()
                .startsWith("what it reaches did not answer within");
    }

    /** An answer that comes when so much time is over. */
    private static List<Rehearsed> after(Duration time) {
        long until = System.nanoTime() + time.toNanos();
        while (System.nanoTime() - until < 0) {
            Thread.onSpinWait();
        }
        return List.of(Rehearsed.wrong("database", "refused"));
    }

    private List<String> said(Supplier<List<Rehearsed>> look) {
        when(rehearsals.before(any(), any())).thenReturn(look);
        return looks.warnings(List.of(mock(Job.Task.class))).get(0);
    }
}
