package org.gantrel.core.notification;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.DayOfWeek;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.JobScope;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("What rules and digests are for")
class DigestTest {

    private static final List<String> NAMES = List.of("settle-a", "settle-b", "report", "pay", "tide");
    private static final List<String> LABELS = List.of("night", "crew", "bank");
    private static final List<String> TEAMS = List.of("revenue", "finance", "fleet");

    private static Job job(String name, String team, List<String> labels) {
        return DefinitionReader.readOne("task: " + name + "\nteam: " + team + "\nlabels: [ " + String.join(", ", labels)
                        + " ]\ndoes: { command: [ \"true\" ] }\n")
                .job();
    }

    private static <T> List<T> some(Random random, List<T> all) {
        return all.stream().filter(each -> random.nextInt(3) == 0).toList();
    }

    @Test
    @DisplayName("are the jobs of their teams that one of the names or labels fits")
    void isForThese() {
        var random = new Random(16);
        for (int i = 0; i < 2_000; i++) {
            Job job = job(
                    NAMES.get(random.nextInt(NAMES.size())),
                    TEAMS.get(random.nextInt(TEAMS.size())),
                    some(random, LABELS));
            var jobs = new ArrayList<>(some(random, NAMES));
            boolean pattern = random.nextBoolean();
            if (pattern) {
                jobs.add("settle-*");
            }
            List<String> labels = some(random, LABELS);
            List<String> teams = some(random, TEAMS);
            boolean team = teams.isEmpty() ? job.team().equals("revenue") : teams.contains(job.team());
            boolean named = jobs.contains(job.name()) || pattern && job.name().startsWith("settle-");
            boolean labelled = job.labels().stream().anyMatch(labels::contains);
            boolean expected = team && (jobs.isEmpty() && labels.isEmpty() || named || labelled);
            assertThat(new JobScope(jobs, labels, teams).isFor(job, "revenue"))
                    .as(jobs + " " + labels + " " + teams + " for " + job.name() + " of " + job.team())
                    .isEqualTo(expected);
        }
    }

    @Test
    @DisplayName("come at their times, on the days of a calendar alone")
    void comeAtTheirTimes() {
        var digest = new Digest(
                "morning",
                "revenue",
                "",
                new JobScope(List.of(), List.of(), List.of()),
                "",
                "every day at 07:30",
                ZoneId.of("Europe/Oslo"),
                "",
                List.of(),
                true);
        Instant friday = Instant.parse("2026-11-27T06:30:00Z");
        assertThat(digest.next(friday, day -> true)).contains(Instant.parse("2026-11-28T06:30:00Z"));
        assertThat(digest.next(
                        friday,
                        day -> day.getDayOfWeek() != DayOfWeek.SATURDAY && day.getDayOfWeek() != DayOfWeek.SUNDAY))
                .contains(Instant.parse("2026-11-30T06:30:00Z"));
        assertThat(digest.next(friday, day -> false)).isEqualTo(Optional.empty());
    }
}
