package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("Before it runs")
class RehearsalTest extends OneService {

    @BeforeAll
    static void begin() {
        work.program("settle.sh", "touch it-ran; mkdir -p out; echo $1 > out/sales.csv");
        admin.bringIn(
                        """
                calendar: working
                team: revenue
                days: weekdays
                ---
                task: settle
                team: revenue
                parameters:
                  day: { type: date, default: "${previous_working_day(planned.date, 'working')}" }
                  routes: { type: list, of: [ sound, skarholm ], default: sound }
                  key: { type: secret, required: no }
                  limit: { type: number, least: 1, most: 9, default: 5, ask: yes }
                does: { command: [ ./settle.sh, "${format(date(day), 'd MMM yyyy')}", "${routes}" ], in: %s, environment: { KEY: "${key}" } }
                outputs: [ { file: out/sales.csv, name: "sales-${day}.csv" } ]
                schedules: [ { name: nightly, when: every day at 02:30, zone: Europe/Oslo, calendar: working } ]
                ---
                chain: close
                team: revenue
                parameters: { day: { type: date, default: "${first_of_month(planned.date)}" } }
                steps: [ { job: settle, with: { day: "${day}", limit: "2" } } ]
                """
                                .formatted(work.folder()))
                .expect(200);
    }

    @Test
    @DisplayName("a rehearsal shows for a chosen time exactly what would be done, and nothing is")
    void showsWhatWouldBeDone() {
        String before = admin.get("/api/v1/runs").text();
        Shell.Result shown = gantrel(
                "job",
                "rehearse",
                "settle",
                "--at",
                "2026-11-23T01:30:00Z",
                "-p",
                "routes=sound, skarholm",
                "-p",
                "key=hush-1");
        assertThat(shown.expect(0).out())
                .contains("./settle.sh", "20 Nov 2026", "sound,skarholm", "••••••", "2026-11-23 is a day of working")
                .doesNotContain("hush-1");
        assertThat(shown.err()).contains("day = 2026-11-20", "nothing was found that would go wrong");
        assertThat(gantrel("job", "rehearse", "settle", "--at", "2026-11-22T01:30:00Z")
                        .expect(0)
                        .out())
                .contains(
                        "2026-11-22 is no day of working, to which the schedule nightly keeps; a start on it is left out");
        assertThat(gantrel("job", "rehearse", "close").expect(0).out())
                .contains("step settle", "settle, at once", "  argument 2", "sound")
                .contains("  program", "is there and may be executed")
                .doesNotContain("!!");
        assertThat(admin.get("/api/v1/runs").text()).isEqualTo(before);
    }

    @Test
    @DisplayName("what would go wrong is said, with the nearest that would be right, and the exit code is 1")
    void saysWhatWouldGoWrong() {
        admin.bringIn("task: misspelt\nteam: revenue\ndoes: { command: [ ./setle.sh ], in: " + work.folder() + " }\n")
                .expect(200);
        Shell.Result wrong = gantrel("job", "rehearse", "misspelt");
        assertThat(wrong.code()).isEqualTo(1);
        assertThat(wrong.out()).contains("!! program", "did you mean 'settle.sh'?");
        assertThat(gantrel("job", "rehearse", "settle", "-p", "routes=sund", "-p", "limit=10")
                        .err())
                .contains("'sund' is not one of sound and skarholm", "'10' is not from 1 to 9");
        assertThat(gantrel("job", "rehearse", "setle").err()).contains("did you mean 'settle'?");
    }

    @Test
    @DisplayName("a chain is looked at step by step, when it is saved and when it is rehearsed")
    void looksAtSteps() throws Exception {
        work.program("gone.sh", "true");
        admin.bringIn(work.task("gone", "./gone.sh", "")
                        + "---\nchain: inner\nteam: revenue\nsteps: [ { job: gone } ]\n")
                .expect(200);
        Files.delete(work.folder().resolve("gone.sh"));
        String outer = "chain: outer\nteam: revenue\nsteps: [ { job: settle, with: { limit: \"3\" } }, { job: gone },"
                + " { step: deep, job: inner } ]\n";
        assertThat(admin.bringIn(outer).expect(200).text())
                .contains("step gone: ", "gone.sh")
                .doesNotContain("step settle: ");
        Shell.Result shown = gantrel("job", "rehearse", "outer", "-p", "limit=7");
        assertThat(shown.expect(2).err()).contains("limit: there is no such parameter");
        shown = gantrel("job", "rehearse", "outer");
        assertThat(shown.expect(1).out())
                .contains("  limit", "step deep.gone", "gone, at once")
                .containsPattern("(?s)step gone .*!!   program .*step deep .*step deep.gone .*!!   program ");
    }

    @Test
    @DisplayName("a pause until a time of day lasts until then, and what follows begins at its end")
    void pausesUntil() {
        admin.bringIn("chain: patient\nteam: revenue\nsteps:\n  - { step: first, pause: 30 min }\n"
                        + "  - { step: rest, pause: { until: \"06:30\" } }\n"
                        + "  - { step: then, job: settle, with: { limit: \"2\" } }\n")
                .expect(200);
        JsonNode rehearsal = admin.post("/api/v1/jobs/patient/rehearsal", Map.of("at", "2026-11-23T01:00:00Z"))
                .expect(200)
                .body();
        JsonNode course = rehearsal.path("course");
        ZoneId zone = ZoneId.of(rehearsal.path("zone").asString());
        ZonedDateTime begins =
                Instant.parse(course.get(1).path("from").asString()).atZone(zone);
        ZonedDateTime ends =
                Instant.parse(course.get(1).path("until").asString()).atZone(zone);
        assertThat(begins.toInstant()).isEqualTo("2026-11-23T01:30:00Z");
        assertThat(ends.toLocalTime()).isEqualTo("06:30");
        assertThat(Duration.between(begins, ends)).isLessThan(Duration.ofDays(1));
        assertThat(course.get(2).path("from").asString())
                .isEqualTo(ends.toInstant().toString());
    }

    @Test
    @DisplayName("a start by hand gives what is asked for, and its outputs can be fetched")
    void startsAndFetches() throws Exception {
        assertThat(gantrel("job", "start", "settle").err()).contains("limit", "is asked for at every start by hand");
        long number = admin.start("settle", Map.of("limit", "3", "day", "2026-11-20"));
        JsonNode run = service.ended(admin, number);
        assertThat(run.path("state").asString()).isEqualTo("succeeded");
        assertThat(gantrel("run", "outputs", String.valueOf(number)).expect(0).out())
                .contains("sales-2026-11-20.csv");
        assertThat(gantrel("run", "outputs", String.valueOf(number), "--get", "sales-2026-11-20.csv", "--to", "-")
                        .expect(0)
                        .out())
                .isEqualTo("20 Nov 2026\n");
        assertThat(admin.get("/api/v1/runs/" + number + "/outputs/file?name=..%2F..%2Flog")
                        .status())
                .isEqualTo(404);
        assertThat(admin.get("/api/v1/runs/" + number + "/outputs/file?name=sales-2026-11-20.csv")
                        .header("Content-Disposition"))
                .startsWith("attachment");
    }

    @Test
    @DisplayName("a starter is filled, looked at and brought in like any file")
    void beginsWithAStarter() {
        assertThat(gantrel("starter", "list").expect(0).out()).contains("probe-an-address", "thin-out-a-folder");
        Shell.Result filled = gantrel(
                "starter",
                "use",
                "thin-out-a-folder",
                "-b",
                "job=thin-out",
                "-b",
                "team=revenue",
                "-b",
                "folder=" + work.folder(),
                "-b",
                "matching=*.csv",
                "-b",
                "days=90",
                "-b",
                "away=" + work.folder() + "/old");
        admin.bringIn(filled.expect(0).out()).expect(200);
        assertThat(gantrel("job", "start", "thin-out", "--wait").expect(0).out())
                .contains("0 files put away into");
        assertThat(gantrel("starter", "use", "thin-out-a-folder", "-b", "days=90")
                        .err())
                .contains("job", "is missing: what the job is called, such as thin-out-reports");
    }
}
