package org.gantrel.core.sweep;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.job.Job;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("What the rows of a sweep have in common")
class SharedValuesTest {

    private static final PlannedTime PLANNED = new PlannedTime(Instant.parse("2026-11-23T01:00:00Z"), ZoneOffset.UTC);

    /** Each gate speaks of what stands before the blank; the last two of nothing. */
    private static final Job JOB = DefinitionReader.read(
                    """
                    task: load-tides
                    team: revenue
                    parameters:
                      day: { type: date, default: "${planned.date - days(1)}" }
                      route: { type: text }
                      path: { type: text, default: "/srv/${route}" }
                      kind: { type: text, default: low }
                      name: { type: text, default: "${kind}-${day}" }
                    does: { shell: "true" }
                    gates:
                      - { when: "day != ''" }
                      - { when: "route != ''" }
                      - { file: "${path}.csv" }
                      - { request: "http://127.0.0.1/${kind}" }
                      - { free: 1 GB, under: "/srv/${name}" }
                      - { between: "01:00", and: "05:00" }
                      - { load: 1.5 }
                    """)
            .jobs()
            .get(0)
            .job();

    private static final List<String> SPOKEN_OF = List.of("day", "route", "path", "kind", "name", "time", "load");

    private static final List<Gate> ALL = JOB.rules().gates().all();

    private static String said(Gates gates) {
        return gates.all().stream()
                .map(gate -> SPOKEN_OF.get(ALL.indexOf(gate)))
                .collect(Collectors.joining(" "));
    }

    private static Set<String> words(String text) {
        return new LinkedHashSet<>(text.isEmpty() ? List.of() : Arrays.asList(text.split(" ")));
    }

    @ParameterizedTest(name = "given {0}, with the columns {1}: once for {2}")
    @CsvSource({
        "''       , route     , day kind name time load",
        "route    , route     , day kind name time load",
        "''       , route day , kind time load",
        "route    , day       , route path kind time load",
        "''       , kind      , day time load",
        "''       , ?         , time load",
        "day      , ?         , day time load",
        "day kind , ?         , day kind time load",
    })
    @DisplayName("gates that speak of it, or of nothing, are those of the sweep")
    void ofSweep(String given, String columns, String once) {
        SharedValues shared = SharedValues.of(
                JOB.parameters(),
                words(given).stream().collect(Collectors.toMap(name -> name, SharedValuesTest::value)),
                columns.equals("?") ? Optional.empty() : Optional.of(List.copyOf(words(columns))),
                PLANNED);
        assertThat(said(shared.ofSweep(JOB.rules().gates()))).isEqualTo(once);
    }

    private static String value(String name) {
        return name.equals("day") ? "2026-11-20" : "x";
    }

    @Test
    @DisplayName("each gate is looked at with the values of each row, by the sweep or by the row")
    void everyGateOnce() {
        var random = new Random(12);
        List<String> names = JOB.parameters().names();
        for (int i = 0; i < 5_000; i++) {
            Map<String, String> given = some(random, names);
            Map<String, String> cells = some(random, names);
            boolean known = random.nextBoolean();
            var columns = new TreeSet<>(cells.keySet());
            SharedValues shared = SharedValues.of(
                    JOB.parameters(), given, known ? Optional.of(List.copyOf(columns)) : Optional.empty(), PLANNED);
            var all = new HashMap<>(given);
            all.putAll(cells);
            all.putIfAbsent("route", "sound");
            Map<String, String> row = JOB.parameters().resolve(all, PLANNED);
            List<Gate> bySweep = shared.ofSweep(JOB.rules().gates()).all();
            List<Gate> byRow = shared.ofRow(JOB.rules().gates(), row).all();
            for (int gate = 0; gate < ALL.size(); gate++) {
                String value = SPOKEN_OF.get(gate);
                boolean sweepSaw = bySweep.contains(ALL.get(gate))
                        && (!names.contains(value)
                                || row.get(value).equals(shared.values().get(value)));
                boolean rowSees = byRow.contains(ALL.get(gate));
                assertThat(sweepSaw ^ rowSees)
                        .as("%s given %s, row %s, columns known: %s", value, given, cells, known)
                        .isTrue();
            }
        }
    }

    private static Map<String, String> some(Random random, List<String> names) {
        var some = new HashMap<String, String>();
        for (String name : names) {
            if (random.nextInt(3) == 0) {
                some.put(name, name.equals("day") ? "2026-11-2" + random.nextInt(3) : "v" + random.nextInt(2));
            }
        }
        return some;
    }
}
