package org.gantrel.acceptance;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.gantrel.acceptance.Browser.button;
import static org.gantrel.acceptance.Browser.exactly;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Lanes, gates, tries, holds and reasons, through the command line, the API and the console. */
@DisplayName("What runs with nobody watching")
class UnattendedTest extends ConsolePages {

    private static long start(String job) {
        return admin.start(job, Map.of());
    }

    private static void waits(long run, String what) {
        Await.until("run " + run + " waits for " + what, () -> admin.get("/api/v1/runs/" + run)
                .body()
                .path("waitingFor")
                .asString("")
                .contains(what));
    }

    @Test
    @DisplayName("waits in a lane, says why, and goes on when somebody widens it")
    void lanes() throws Exception {
        String go = work.folder().resolve("go-lane").toString();
        for (String name : new String[] {"plan-a", "plan-b"}) {
            admin.bringIn("task: " + name + "\nteam: revenue\nlanes: [ yard ]\n"
                            + "does: { command: [ /bin/sh, -c, 'until test -e " + go + "; do sleep 0.1; done' ] }\n"
                            + (name.equals("plan-a") ? "---\nlane: yard\nteam: revenue\nwidth: 1\n" : ""))
                    .expect(200);
        }
        long first = start("plan-a");
        Await.until("it runs", () -> admin.get("/api/v1/runs/" + first)
                .body()
                .path("state")
                .asString()
                .equals("running"));
        long second = start("plan-b");
        waits(second, "a place in lane yard: 1 of 1 taken");
        assertThat(gantrel("run", "why", String.valueOf(second)).out())
                .contains("in the way")
                .contains("run " + first + " of plan-a")
                .contains("1 place in lane yard comes free");
        assertThat(gantrel("lane", "show", "yard").out()).contains("1 of 1 taken, 1 waiting, open");
        Page page = page("/lanes/yard");
        assertThat(page.getByText("plan-a · run " + first)).isVisible();
        assertThat(page.getByText("waits for a place in lane yard: 1 of 1 taken"))
                .isVisible();
        exactly(page, "Width").fill("2");
        button(page, "Set").click();
        assertThat(page.getByText("Its definition gives it 1")).isVisible();
        Await.until("the second runs", () -> admin.get("/api/v1/runs/" + second)
                .body()
                .path("state")
                .asString()
                .equals("running"));
        assertThat(gantrel("lane", "retire", "yard").err()).contains("plan-a, plan-b");
        Files.writeString(work.folder().resolve("go-lane"), "");
        service.ended(admin, first);
        service.ended(admin, second);
        assertThat(gantrel("export", "yard").out()).contains("lane: yard");
        admin.bringIn("lane: yard\nteam: revenue\nwidth: 2\n---\ntask: plan-wide\nteam: revenue\nlanes: { yard: 2 }\n"
                        + "does: { command: [ \"true\" ] }\n")
                .expect(200);
        assertThat(gantrel("lane", "widen", "yard", "1").err())
                .contains("has 1 place until its definition is changed")
                .contains("plan-wide takes 2 places, and waits until the lane is wider");
        page.navigate(service.url() + "/lanes/yard");
        assertThat(page.getByText("plan-wide takes more places than it has")).isVisible();
        assertThat(gantrel("lane", "widen", "yard", "2").err()).contains("as its definition says");
    }

    @Test
    @DisplayName("is tried again, with progress, and each try has its log; it can be hurried and given up")
    void tries() {
        admin.bringIn(
                        """
                        task: flaky
                        team: revenue
                        retry: { tries: 3, wait: 1 h }
                        does:
                          shell: |
                            echo "this is try $GANTREL_TRY"
                            echo '%gantrel {"progress": 0.5, "text": "half of it", "values": {"tickets": 339}}'
                            echo '%gantrel {"progress": "much"}'
                            test $GANTREL_TRY = 2
                        """)
                .expect(200);
        long run = start("flaky");
        waits(run, "try 2 of 3, after: exit code 1");
        Page page = page("/runs/" + run);
        assertThat(page.getByText("the next comes")).isVisible();
        button(page, "Try now").click();
        assertThat(service.ended(admin, run).path("state").asString()).isEqualTo("succeeded");
        var ended = admin.get("/api/v1/runs/" + run).body();
        assertThat(ended.path("results").path("tickets").asString()).isEqualTo("339");
        assertThat(ended.path("attempts").get(0).path("message").asString()).startsWith("exit code 1");
        assertThat(gantrel("run", "log", String.valueOf(run)).out())
                .contains("this is try 2")
                .contains("%gantrel {\"progress\": \"much\"}")
                .doesNotContain("half of it");
        assertThat(gantrel("run", "log", String.valueOf(run), "--try", "1").out())
                .contains("this is try 1");
        long given = start("flaky");
        waits(given, "try 2 of 3");
        assertThat(gantrel("run", "give-up", String.valueOf(given)).code()).isZero();
        assertThat(service.ended(admin, given).path("message").asString()).contains("given up by admin");
        assertThat(gantrel("run", "give-up", String.valueOf(given)).code()).isEqualTo(4);
    }

    @Test
    @DisplayName("is shown with the rules that its runs keep, and without those that are as usual")
    void rules() {
        admin.bringIn(
                        """
                        task: ruled
                        team: revenue
                        does: { command: [ "true" ] }
                        while-running: 3
                        gates: [ { file: /srv/never.csv, settled: 1 min } ]
                        gate-patience: { for: 1 h, then: fail }
                        retry: { tries: 3, wait: 2 min }
                        stop-at: "05:30"
                        long-after: 40 min
                        ---
                        chain: ruled-chain
                        team: revenue
                        time-limit: 2 h
                        steps: [ { job: ruled } ]
                        """)
                .expect(200);
        assertThat(gantrel("job", "show", "ruled").out())
                .contains("while running    3 may go side by side")
                .contains("waits for        the file /srv/never.csv")
                .contains("for 1 h, then it fails")
                .contains("tries            3, the second 2 min after the first")
                .contains("stop at          05:30")
                .contains("unusually long   after 40 min")
                .doesNotContain("priority");
        assertThat(gantrel("job", "show", "ruled-chain").out()).contains("time limit       2 h");
        var rules = admin.get("/api/v1/jobs/ruled").body().path("rules");
        assertThat(rules.path("retry").path("tries").asInt()).isEqualTo(3);
        assertThat(admin.get("/api/v1/jobs/ruled-chain").body().has("rules")).isFalse();
        Page page = page("/jobs/ruled");
        assertThat(page.getByText("3 may go side by side")).isVisible();
        assertThat(page.getByText("1 h, then it fails")).isVisible();
    }

    @Test
    @DisplayName("says in lists how far it is")
    void progressInLists() {
        admin.bringIn("task: counting\nteam: revenue\ndoes:\n  shell: |\n"
                        + "    echo '%gantrel {\"progress\": 0.4, \"text\": \"4 of 10 routes\"}'\n    sleep 60\n")
                .expect(200);
        long run = start("counting");
        Await.until(
                "its progress is listed",
                () -> gantrel("run", "list", "--job", "counting").out().contains("40 %, 4 of 10 routes"));
        assertThat(gantrel("run", "cancel", String.valueOf(run)).code()).isZero();
        service.ended(admin, run);
    }

    @Test
    @DisplayName("waits at a gate or in a hold, and both say so wherever somebody would wonder")
    void gatesAndHolds() {
        admin.bringIn("task: loads\nteam: revenue\ndoes: { command: [ \"true\" ] }\n" + "gates: [ { file: \""
                        + work.folder().resolve("never.csv") + "\" } ]\n")
                .expect(200);
        long gated = start("loads");
        waits(gated, "never.csv: it is not there");
        assertThat(gantrel("run", "why", String.valueOf(gated)).out())
                .contains("shut")
                .contains("it is not there");
        admin.bringIn("task: loads\nteam: revenue\ndoes: { command: [ \"true\" ] }\nabout: another\n"
                        + "gates: [ { file: \"" + work.folder().resolve("never.csv") + "\" } ]\n")
                .expect(200);
        assertThat(gantrel("run", "why", String.valueOf(gated)).out())
                .contains("keeps            revision 1 of its job, which has been changed since and is at 2");
        assertThat(gantrel("run", "show", String.valueOf(gated)).out())
                .contains("1, which it keeps; the job has been changed since and is at 2");
        assertThat(gantrel("job", "rehearse", "loads").out()).contains("waits for the file");
        assertThat(gantrel("job", "start", "loads", "--skip-gates", "--wait").code())
                .isZero();
        gantrel("run", "cancel", String.valueOf(gated));
        Page page = page("/holds?on=job&name=loads");
        exactly(page, "Why").fill("new pumps");
        button(page, "Hold it").click();
        assertThat(page.getByText("job loads")).isVisible();
        long held = admin.post("/api/v1/jobs/loads/runs", Map.of("skipGates", true))
                .expect(201)
                .body()
                .path("number")
                .asLong();
        waits(held, "the end of a hold of the job loads, held by admin: new pumps");
        assertThat(gantrel("status").out()).contains("on hold: the job loads, held by admin: new pumps");
        assertThat(gantrel("job", "show", "loads").out()).contains("on hold: the job loads, held by admin: new pumps");
        for (String where : new String[] {"/", "/jobs/loads"}) {
            page.navigate(service.url() + where);
            assertThat(page.getByRole(AriaRole.NOTE).first()).containsText("On hold: the job loads");
        }
        page.navigate(service.url() + "/holds");
        button(page, "End it").click();
        assertThat(service.ended(admin, held).path("state").asString()).isEqualTo("succeeded");
    }

    private static Shell.Result supposing(String... what) {
        var arguments = new ArrayList<>(List.of("forecast", "--job", "nightly"));
        for (String each : what) {
            arguments.addAll(List.of("--suppose", each));
        }
        return gantrel(arguments.toArray(String[]::new));
    }

    @Test
    @DisplayName(
            "has deadlines and a forecast in which something may be supposed; any moment of a schedule is explained")
    void looksAhead() {
        admin.bringIn("task: nightly\nteam: revenue\ndoes: { command: [ \"true\" ] }\n"
                        + "schedules: [ { name: deep, when: every day at 02:30, zone: UTC, deadline: \"05:00\" } ]\n")
                .expect(200);
        Await.until(
                "its deadline is known",
                () -> admin.get("/api/v1/deadlines").expect(200).text().contains("\"job\":\"nightly\""));
        assertThat(gantrel("forecast", "--job", "nightly", "--suppose", "duration.nightly=3h")
                        .out())
                .contains("misses its deadline by 30 min");
        // what others do takes no place of the service
        admin.bringIn("task: vault\nteam: revenue\ndoes: outside\n"
                        + "schedules: [ { name: before, when: every day at 02:29, zone: UTC } ]\n")
                .expect(200);
        assertThat(supposing("places=1", "duration.vault=1h", "duration.nightly=2h")
                        .out())
                .contains("nightly")
                .doesNotContain("misses its deadline");
        assertThat(supposing("lane.x").err()).contains("such as lane.NAME=2");
        assertThat(supposing(
                                "places=0",
                                "duration.a=-1",
                                "places=2",
                                "lane.nowhere=2",
                                "schedule.nightly/now=every day at 04:00")
                        .err())
                .contains(
                        "'places=0': 1 to 1000 places",
                        "'duration.a=-1': a duration",
                        "'places' is supposed twice",
                        "no lane 'nowhere'",
                        "no schedule 'now'");
        assertThat(gantrel("schedule", "why", "nightly", "deep", "--at", "2027-01-04T03:00:00Z")
                        .out())
                .contains("'every day at 02:30' does not name Mon 4 Jan 03:00:00 (UTC)");
        assertThat(gantrel("schedule", "why", "nightly", "deep", "--at", "2027-01-04T02:30:00Z")
                        .out())
                .contains("it will start then");
        String[] lay = {"hold", "lay", "--job", "nightly", "--why", "new disks", "--from", "2027-01-04T01:00:00Z"};
        assertThat(gantrel(with(lay, "--until", "2027-01-04T09:00:00Z")).code()).isZero();
        String[] why = {"schedule", "why", "nightly", "deep", "--at"};
        assertThat(gantrel(with(why, "2027-01-04T02:30:00Z")).out())
                .contains("it comes due then and will wait for the end of a hold of the job nightly, held by admin: new"
                        + " disks, until Mon 4 Jan 09:00:00 (UTC)");
        assertThat(gantrel(with(why, "2027-01-05T02:30:00Z")).out()).contains("it will start then");
        assertThat(gantrel("hold", "list", "--job", "nightly").out()).contains("new disks");
        assertThat(gantrel("forecast", "--hours", "0").err()).contains("--hours: '0': 1 to 9600 would be right");
        assertThat(gantrel("run", "list", "--limit", "-3").err()).contains("--limit: '-3': a whole number from 1 on");
    }

    private static String[] with(String[] words, String... more) {
        return Stream.concat(Stream.of(words), Stream.of(more)).toArray(String[]::new);
    }

    @ParameterizedTest(name = "{0}")
    @DisplayName("is refused where it cannot be, with what would be right")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '"',
            value = {
                "lane: l; team: revenue; width: 0 | a whole number from 1 to 1000",
                "lane: l; team: revenue; width: -1 | a whole number from 1 to 1000",
                "task: t; team: revenue; does: { command: [ x ] }; lanes: [ no-such-lane ] | there is no lane 'no-such-lane'",
                "task: t; team: revenue; does: { command: [ x ] }; while-running: often | wait, skip, replace, or how many",
                "task: t; team: revenue; does: { command: [ x ] }; while-running: replace; leftovers: let-go | wait or skip would be right",
                "task: t; team: revenue; does: { command: [ x ] }; apart-by: [ route ] | 'route' is no parameter",
                "task: t; team: revenue; does: { command: [ x ] }; retry: { wait: 1 min } | how many tries there are in all",
                "task: t; team: revenue; does: { mail: x, to: [ a@example.org ], text: x }; retry: { tries: 2 } | repeatable: yes",
                "task: t; team: revenue; does: { command: [ x ] }; time-limit: 2 h; total-limit: 1 h | less than the time limit of one",
                "task: t; team: revenue; does: { command: [ x ] }; gates: [ { job: nowhere } ] | there is no job 'nowhere'",
                "task: t; team: revenue; does: { command: [ x ] }; gates: [ { load: 2, host: nowhere } ] | no credential 'nowhere'",
                "task: t; team: revenue; does: { command: [ x ] }; gates: [ { file: /a, free: 1 GB } ] | a gate asks for one thing",
                "task: t; team: revenue; does: { command: [ x ] }; priority: 10 | a whole number from 1 to 9",
                "task: t; team: revenue; does: { command: [ x ] }; schedules: [ { name: s, when: every day at 06:00, zone: UTC,"
                        + " deadline: '05:30' } ] | is not after the start at 06:00"
            })
    void isRefused(String definition, String why) {
        Http.Answer answer =
                admin.bringIn(definition.replace("; ", "\n").strip()).expect(422);
        assertThat(answer.text()).contains(why);
    }

    @Test
    @DisplayName("did not start at a moment, or will, for a reason that its schedule tells of any moment")
    void whyThen() {
        String why = "'every day at 02:30' does not name Wed 1 Jan 2098 02:31:00 (Europe/Oslo)";
        assertThat(gantrel("schedule", "why", "settle-tickets", "nightly", "--at", "2098-01-01T02:31")
                        .out())
                .startsWith(why)
                .contains("next occurrence    2098-01-02 02:30:00 CET");
        assertThat(gantrel("schedule", "why", "settle-tickets", "nightly", "--at", "2098-01-01 01:30 UTC")
                        .out())
                .startsWith("it will start then");
        assertThat(gantrel("schedule", "why", "settle-tickets", "nightly", "--at", "soon")
                        .code())
                .isEqualTo(2);
        admin.get("/api/v1/jobs/settle-tickets/schedules/nightly/why?at=soon").expect(422);
        Page page = page("/jobs/settle-tickets/schedules/nightly");
        exactly(page, "Why then, or why not?").fill("2098-01-01 02:31");
        assertThat(page.getByText(why)).isVisible();
        exactly(page, "Why then, or why not?").fill("2020-01-01 02:30");
        assertThat(page.getByText("There was no such job yet: it was made on")).isVisible();
    }
}
