package org.gantrel.service.storm;

import static org.assertj.core.api.Assertions.assertThat;

import jakarta.persistence.Entity;
import java.lang.reflect.Modifier;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CyclicBarrier;
import org.gantrel.service.LiveService;
import org.gantrel.service.team.Teams;
import org.hibernate.annotations.DynamicUpdate;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.annotation.ClassPathScanningCandidateComponentProvider;
import org.springframework.core.type.filter.AnnotationTypeFilter;

@DisplayName("Of two changes of one thing at the same moment that go together")
class SideBySideTest {

    private static final int TIMES = 8;
    /** Changed by the engine alone, or by one thread each. */
    private static final List<String> OF_ONE =
            List.of("StepRecord", "SweepRecord", "SweepRow", "WatchRecord", "RosterRow");

    @TempDir
    static Path folder;

    private static LiveService service;
    private static Storm.Person mara;

    @BeforeAll
    static void open() {
        service = LiveService.fresh(folder);
        mara = Storm.Person.administrator(service, "mara.holt");
    }

    @AfterAll
    static void close() {
        service.close();
    }

    private static void both(Runnable one, Runnable other) throws Exception {
        var start = new CyclicBarrier(2);
        var threads = new ArrayList<Thread>();
        for (Runnable each : List.of(one, other)) {
            threads.add(new Thread(() -> {
                try {
                    start.await();
                } catch (Exception e) {
                    throw new AssertionError(e);
                }
                each.run();
            }));
        }
        threads.forEach(Thread::start);
        for (Thread each : threads) {
            each.join();
        }
    }

    @Test
    @DisplayName("both stay: a lane is widened while it is defined anew")
    void widenedAndDefined() throws Exception {
        String lane = "lane: sound\nteam: revenue\nwidth: 1\nabout: n";
        mara.mustBringIn(lane + "0\n");
        for (int i = 1; i <= TIMES; i++) {
            int number = i;
            both(
                    () -> mara.call("PUT", "lanes/sound/width", Map.of("width", 2 + number % 3)),
                    () -> mara.mustBringIn(lane + number + "\n"));
            assertThat(mara.call("GET", "lanes/sound", null).body()).contains("\"revision\":" + (i + 1));
        }
    }

    @Test
    @DisplayName("both stay: an account that is shut while it gets another password is shut")
    void shutWithAnotherPassword() throws Exception {
        for (int i = 0; i < TIMES; i++) {
            String name = "guest-" + i;
            service.bean(Teams.class).createPerson(LiveService.SERVICE, name, "", "correct-horse-9", false);
            both(
                    () -> mara.call("PUT", "people/" + name + "/shut", Map.of("shut", true)),
                    () -> mara.call("PUT", "people/" + name + "/password", Map.of("password", "battery-staple-7")));
            assertThat(service.bean(Teams.class).person(name).orElseThrow().isShut())
                    .isTrue();
        }
    }

    @Test
    @DisplayName("each writes only what it changes: so says every record that more than one may change")
    void onlyWhatItChanges() {
        var scanner = new ClassPathScanningCandidateComponentProvider(false);
        scanner.addIncludeFilter(new AnnotationTypeFilter(Entity.class));
        assertThat(scanner.findCandidateComponents("org.gantrel.service"))
                .isNotEmpty()
                .map(found -> type(found.getBeanClassName()))
                .filteredOn(SideBySideTest::isChangedInMoreWays)
                .filteredOn(type -> !OF_ONE.contains(type.getSimpleName()))
                .allMatch(type -> type.isAnnotationPresent(DynamicUpdate.class));
    }

    private static Class<?> type(String name) {
        try {
            return Class.forName(name);
        } catch (ClassNotFoundException e) {
            throw new AssertionError(e);
        }
    }

    private static boolean isChangedInMoreWays(Class<?> type) {
        return Arrays.stream(type.getDeclaredMethods())
                        .filter(method -> method.getReturnType() == void.class
                                && !Modifier.isStatic(method.getModifiers())
                                && !method.isSynthetic())
                        .count()
                > 1;
    }
}
