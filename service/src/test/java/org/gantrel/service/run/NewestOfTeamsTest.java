package org.gantrel.service.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.gantrel.core.access.Role;
import org.gantrel.service.LiveService;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("The newest runs of the teams that somebody sees")
class NewestOfTeamsTest {

    private final Random random = new Random(17);

    @Test
    @DisplayName("come in pages without one missing or one too many, whichever teams and filter")
    void comesInPages(@TempDir Path folder) {
        try (var service = LiveService.fresh(folder)) {
            List<String> all = List.of("fleet", "harbour", "revenue");
            List.of("fleet", "harbour")
                    .forEach(team -> service.bean(Teams.class).create(LiveService.SERVICE, team, ""));
            all.forEach(team -> List.of("a", "b")
                    .forEach(name -> service.define("task: " + team + "-" + name + "\nteam: " + team
                            + "\ndoes: { checks: [ { name: there, file: " + folder + " } ] }\n")));
            var runs = new ArrayList<Run>();
            for (int i = 0; i < 60; i++) {
                runs.add(service.start(all.get(random.nextInt(3)) + (random.nextBoolean() ? "-a" : "-b")));
            }
            runs.forEach(service::ended);
            RunSearch search = service.bean(RunSearch.class);
            for (int round = 0; round < 40; round++) {
                Map<String, Role> roles = new HashMap<>();
                all.stream().filter(team -> random.nextInt(3) > 0).forEach(team -> roles.put(team, Role.VIEWER));
                var caller = new Caller("lea.moss", "Lea Moss", false, roles);
                String job = random.nextInt(3) == 0 ? all.get(random.nextInt(3)) + "-a" : "";
                List<Long> expected = runs.stream()
                        .filter(run -> roles.keySet().stream().anyMatch(run.jobName()::startsWith))
                        .filter(run -> job.isEmpty() || run.jobName().equals(job))
                        .map(Run::number)
                        .sorted(java.util.Comparator.reverseOrder())
                        .toList();
                assertThat(pages(search, caller, RunFilter.of(job.isEmpty() ? Map.of() : Map.of("job", job))))
                        .as(roles + " " + job)
                        .isEqualTo(expected);
            }
        }
    }

    private List<Long> pages(RunSearch search, Caller caller, RunFilter filter) {
        var found = new ArrayList<Long>();
        int most = 1 + random.nextInt(20);
        long before = Long.MAX_VALUE;
        while (true) {
            List<Run> page = search.find(caller, filter, before, most);
            page.forEach(run -> found.add(run.number()));
            if (page.size() < most) {
                return found;
            }
            before = page.get(most - 1).number();
        }
    }
}
