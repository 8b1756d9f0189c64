package org.gantrel.core.trigger;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.gantrel.core.event.EventType;
import org.gantrel.core.trigger.FolderCourse.Found;
import org.gantrel.core.trigger.FolderCourse.Known;
import org.gantrel.core.trigger.FolderCourse.Result;
import org.gantrel.core.trigger.FolderCourse.Seen;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A folder that is watched")
class FolderCourseTest {

    private static final Instant BEGIN = Instant.parse("2026-11-26T06:00:00Z");
    private static final Duration SETTLED = Duration.ofSeconds(10);

    private static FileWatch watch(String marker) {
        return new FileWatch(
                "/srv/tides",
                List.of("*"),
                1,
                SETTLED,
                marker,
                Optional.of(Duration.ofHours(1)),
                Optional.empty(),
                Optional.empty(),
                "");
    }

    /** A folder with a clock, and what a watch makes of it. */
    private static final class World {
        private final EventType on;
        private final FileWatch watch;
        private final Map<String, Seen> files = new HashMap<>();
        private Map<String, Known> known = new HashMap<>();
        private final List<String> told = new ArrayList<>();
        private Instant now = BEGIN;

        private World(EventType on, FileWatch watch) {
            this.on = on;
            this.watch = watch;
        }

        private void write(String path, long size) {
            files.put(path, new Seen(size, now));
        }

        private World after(long seconds) {
            now = now.plusSeconds(seconds);
            return this;
        }

        private Result look(boolean first) {
            Map<String, Optional<Seen>> looked = new LinkedHashMap<>();
            known.keySet().forEach(path -> looked.put(path, Optional.empty()));
            files.forEach((path, seen) -> {
                if (watch.isFor(path)) {
                    looked.put(path, Optional.of(seen));
                }
            });
            Result result = FolderCourse.look(
                    on, watch, known, looked, path -> files.containsKey(path + watch.marker()), first, now);
            // what is remembered is all that a restart leaves
            Map<String, Known> kept = new HashMap<>(known);
            result.now()
                    .forEach((path, is) -> is.ifPresentOrElse(each -> kept.put(path, each), () -> kept.remove(path)));
            known = kept;
            for (Found found : result.found()) {
                told.add(found.path() + " " + found.as().size());
            }
            return result;
        }
    }

    @Test
    @DisplayName("tells of a file in time though the clock was put back after it came")
    void clockPutBack() {
        var world = new World(EventType.FILE_ARRIVED, watch(""));
        world.look(true);
        world.write("tides.csv", 1);
        world.look(false);
        world.after(-3_600).look(false);
        world.after(9).look(false);
        assertThat(world.told).isEmpty();
        world.after(1).look(false);
        assertThat(world.told).containsExactly("tides.csv 1");
    }

    @Test
    @DisplayName(
            "tells of each file once it is complete, in 500 random days of writing, renaming, replacing and deleting")
    void tellsOnce() {
        for (int seed = 0; seed < 500; seed++) {
            var random = new Random(seed);
            var world = new World(EventType.FILE_ARRIVED, watch(""));
            world.write("was-there", 1);
            world.look(true);
            // by a name and a size, which no two states of a file share: how long the naive model saw it unchanged
            Map<String, Instant> since = new HashMap<>();
            List<String> due = new ArrayList<>();
            long size = 1;
            for (int i = 0; i < 120; i++) {
                world.after(1 + random.nextInt(8));
                String name = "f" + random.nextInt(4);
                switch (random.nextInt(6)) {
                    case 0, 1 -> world.write(name, ++size);
                    case 2 -> {
                        Seen moved = world.files.remove(name);
                        if (moved != null) {
                            world.files.put(name + "-" + i, new Seen(++size, moved.modified()));
                        }
                    }
                    case 3 -> world.files.remove(name);
                    default -> {
                        // nothing happens
                    }
                }
                for (Map.Entry<String, Seen> file : world.files.entrySet()) {
                    String state = file.getKey() + " " + file.getValue().size();
                    since.putIfAbsent(state, world.now);
                    Instant rested = file.getValue().modified().isBefore(since.get(state))
                            ? file.getValue().modified()
                            : since.get(state);
                    boolean complete = !world.now.isBefore(rested.plus(SETTLED));
                    if (complete && !due.contains(state) && !file.getKey().equals("was-there")) {
                        due.add(state);
                    }
                }
                world.look(false);
                assertThat(world.told).as("seed " + seed + " step " + i).containsExactlyInAnyOrderElementsOf(due);
            }
        }
    }

    @Test
    @DisplayName("waits for a marker, however long a file has been there")
    void waitsForMarker() {
        var world = new World(EventType.FILE_ARRIVED, watch(".done"));
        world.look(true);
        world.write("a.csv", 5);
        assertThat(world.after(3_600).look(false).again()).isEmpty();
        assertThat(world.told).isEmpty();
        world.write("a.csv.done", 0);
        world.after(1).look(false);
        world.after(60).look(false);
        assertThat(world.told).containsExactly("a.csv 5");
    }

    @Test
    @DisplayName("tells of changes, of what went away, and of age, each once")
    void tellsOfMore() {
        var changed = new World(EventType.FILE_CHANGED, watch(""));
        changed.write("old", 1);
        changed.look(true);
        changed.after(20).write("new", 1);
        changed.after(1).look(false);
        changed.write("new", 2);
        changed.after(1).look(false);
        changed.after(20).look(false);
        assertThat(changed.told).as("it came, and was written for a while").isEmpty();
        changed.write("new", 3);
        changed.write("old", 2);
        Result soon = changed.after(1).look(false);
        assertThat(soon.again()).contains(changed.now.plus(SETTLED).minusSeconds(1));
        changed.after(9).look(false);
        changed.after(9).look(false);
        assertThat(changed.told).containsExactlyInAnyOrder("new 3", "old 2");

        var gone = new World(EventType.FILE_GONE, watch(""));
        gone.write("a", 1);
        gone.look(true);
        gone.files.clear();
        gone.after(1).look(false);
        gone.after(1).look(false);
        assertThat(gone.told).containsExactly("a 1");

        var aged = new World(EventType.FILE_AGED, watch(""));
        aged.write("a", 1);
        assertThat(aged.look(true).again()).contains(BEGIN.plus(Duration.ofHours(1)));
        aged.after(3_600).look(false);
        aged.after(3_600).look(false);
        assertThat(aged.told).containsExactly("a 1");
    }
}
