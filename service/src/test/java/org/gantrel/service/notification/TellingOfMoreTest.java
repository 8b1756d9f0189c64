package org.gantrel.service.notification;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import jakarta.mail.internet.MimeMessage;
import java.nio.file.Files;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.fault.FaultLedger;
import org.gantrel.service.http.Invalid;
import org.gantrel.service.http.ProblemView;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Run;
import org.gantrel.service.telling.Tellings;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("People are told")
class TellingOfMoreTest extends Mailed {

    @Test
    @DisplayName("of each good end where a rule says so, and where its condition holds")
    void ofEachEnd() throws Exception {
        service.define(
                "notification: each-end\nteam: revenue\nfor: { jobs: [ greets ] }\ntells: [ succeeded, warned ]\n"
                        + "when: \"run.values.crowns > 10\"\nto: [ starter, ops@example.org ]\n");
        service.define(
                "task: greets\nteam: revenue\nparameters: { crowns: { type: number } }\ngives: { crowns: number }\n"
                        + "does: { command: [ /bin/sh, -c, 'echo \"{ \\\"crowns\\\": $0 }\" > \"$GANTREL_RESULT\"', \"${crowns}\" ] }\n");
        service.ended(service.start("greets", Map.of("crowns", "3")));
        service.ended(service.start("greets", Map.of("crowns", "12")));
        service.ended(service.start("greets", Map.of("crowns", "13")));
        awaitMails("greets", "ops@example.org: greets succeeded", "ops@example.org: greets succeeded");
        assertThat(text(about("greets"))).contains("Gave crowns:", "With crowns:");
    }

    @Test
    @DisplayName("of the questions of chains: those whom the step names, and those whom a rule tells")
    void ofQuestions() throws Exception {
        service.define(
                """
                notification: questions
                team: revenue
                for: { jobs: [ signs ] }
                tells: [ approval ]
                to: [ { person: ivo.brandt }, bank@example.org ]
                urgency: urgent
                ---
                chain: signs
                team: revenue
                steps:
                  - { step: sign, approval: { by: { team: revenue, role: manager }, asks: "Pay 12?", tells: [ bank@example.org ] } }
                """);
        service.start("signs");
        awaitMails("signs", "bank@example.org: signs asks: Pay 12?", "ivo.brandt@example.org: signs asks: Pay 12?");
        assertThat(text(about("signs"))).contains("people with the role manager in the team revenue", "run decide");
    }

    @Test
    @DisplayName("how it went, at the times of a digest, once, and not where nothing is to say")
    void howItWent() throws Exception {
        service.define(
                """
                digest: morning
                team: revenue
                for: { jobs: [ "sum-*" ] }
                when: every day at 07:30
                zone: Europe/Oslo
                to: [ boss@example.org, { person: tove.lind } ]
                even-if-nothing: no
                """);
        breaks("sum-a", "");
        breaks("sum-b", "");
        mend("sum-b");
        Await.until("it counts from now on", () -> {
            service.bean(Courier.class).ring();
            return service.bean(DigestToldStore.class).existsById("morning");
        });
        run("sum-a");
        run("sum-b");
        awaitFaults("sum-a");
        CLOCK.moveBy(Duration.ofDays(1));
        awaitMails("morning", "boss@example.org: morning: 2 runs, 1 fault to see to");
        String text = text(about("morning"));
        assertThat(text)
                .contains("sum-a failed since", "exit code 3", "/faults/", "1 run")
                .doesNotContain("sum-b");
        mend("sum-a");
        run("sum-a");
        awaitFaults();
        CLOCK.moveBy(Duration.ofDays(1));
        awaitTold();
        assertThat(mails("morning")).hasSize(1);
        CLOCK.moveBy(Duration.ofDays(-2));
        awaitTold();
        CLOCK.moveBy(Duration.ofDays(2));
        awaitTold();
    }

    @Test
    @DisplayName("in each digest of what ended since the last one, also where it began before that")
    void ofWhatEndedSince() throws Exception {
        service.define(
                """
                digest: evening
                team: revenue
                for: { jobs: [ "long-*" ] }
                when: every day at 18:30
                zone: Europe/Oslo
                to: [ boss@example.org ]
                """);
        service.task("long-night", "until test -e " + folder + "/long-night; do sleep 0.05; done; exit 3", "");
        awaitTold("evening");
        Run run = service.underway(service.start("long-night"));
        CLOCK.moveBy(Duration.ofDays(1));
        awaitMails("evening", "boss@example.org: evening: 1 run, all is well");
        assertThat(text(about("evening"))).containsPattern("running: +1 run");
        Files.writeString(folder.resolve("long-night"), "");
        service.ended(run);
        CLOCK.moveBy(Duration.ofDays(1));
        awaitMails(
                "evening",
                "boss@example.org: evening: 1 run, all is well",
                "boss@example.org: evening: 1 run, 1 fault to see to");
        CLOCK.moveBy(Duration.ofDays(1));
        awaitMails(
                "evening",
                "boss@example.org: evening: 0 runs, 1 fault to see to",
                "boss@example.org: evening: 1 run, 1 fault to see to",
                "boss@example.org: evening: 1 run, all is well");
    }

    private static void awaitTold() {
        awaitTold("morning");
    }

    private static void awaitTold(String digest) {
        Await.until("it is told until now", () -> {
            service.bean(Courier.class).ring();
            return service.bean(DigestToldStore.class)
                    .findById(digest)
                    .filter(told -> told.until().equals(CLOCK.instant()))
                    .isPresent();
        });
    }

    /** A fault opens and closes a moment after the end that does it. */
    private static void awaitFaults(String... jobs) {
        Await.until("the faults are those of " + List.of(jobs), () -> service.bean(FaultLedger.class).open().stream()
                .map(fault -> service.bean(Jobs.class).withId(fault.jobId()).name())
                .filter(name -> name.startsWith("sum-"))
                .toList()
                .equals(List.of(jobs)));
    }

    @Test
    @DisplayName("only where there is somebody: unknown people, lists and channels are refused, all at once")
    void onlyWhereThereIsSomebody() {
        assertThatThrownBy(() -> service.define("notification: n\nteam: revenue\nto: [ { person: mara.hold },"
                        + " { duty: nights }, { team: revenu } ]\nby: dsk\n"))
                .isInstanceOfSatisfying(Invalid.class, e -> assertThat(e.problems())
                        .extracting(ProblemView.Wrong::message)
                        .anySatisfy(text -> assertThat(text).contains("mara.hold"))
                        .anySatisfy(text -> assertThat(text).contains("there is no channel 'dsk'")));
        assertThatThrownBy(() -> service.define("channel: c\nteam: revenue\ncall: https://desk.example.org\n"
                        + "body: '{ \"a\": \"{{#x}}\" }'\n"))
                .isInstanceOf(Invalid.class)
                .hasMessageContaining("is no template");
        service.define("notification: nobody\nteam: revenue\nfor: { jobs: [ unheard ] }\nto: [ owner ]\n");
        service.task("unheard", "true", "");
        assertThat(service.bean(ToldApi.class)
                        .told(caller("mara.holt"), "unheard", "", null)
                        .warnings())
                .contains("nobody would hear of what the rule nobody tells");
    }

    @Test
    @DisplayName("in the words of a team, which see of a run what its reader may see, and no secret")
    void inOwnWords() throws Exception {
        service.define(
                """
                wording: short
                team: revenue
                subject: "[revenue] {{job}} {{state}}\\t(run {{run}})"
                text: |
                  {{sentence}}
                  {{#values}}route {{route}}, key {{key}}{{/values}}
                  {{#lines}}> {{.}}
                  {{/lines}}
                  {{values.nothing}}<b>{{message}}</b>
                ---
                notification: own-words
                team: revenue
                for: { jobs: [ spoken ] }
                to: [ { person: mara.holt } ]
                worded: short
                """);
        service.task(
                "spoken",
                "echo said; exit 3",
                "parameters: { route: { type: text, default: sound }, key: { type: secret } }\n");
        Run run = service.ended(service.start("spoken", Map.of("key", "hush-hush-key")));
        awaitMails("spoken", "mara.holt@example.org: [revenue] spoken failed");
        MimeMessage told = about("spoken");
        assertThat(text(told))
                .contains("route sound, key ", "> said", "<b>exit code 3: said</b>")
                .doesNotContain("hush-hush-key");
        WordingApi api = service.bean(WordingApi.class);
        WordingApi.WordingPreview shown =
                api.preview(caller("mara.holt"), new WordingApi.WordingPreviewBody("short", null, run.number()));
        assertThat(shown.subject()).isEqualTo("[revenue] spoken failed (run " + run.number() + ")");
        assertThat(shown.html())
                .contains("&lt;b&gt;exit code 3: said&lt;/b&gt;")
                .doesNotContain("hush-hush-key");
        String wrong = "wording: w\nteam: revenue\nsubject: \"{{jb}}\"\ntext: \"x\\n{{#lines}}\"\n";
        assertThatThrownBy(() ->
                        api.preview(LiveService.SERVICE, new WordingApi.WordingPreviewBody(null, wrong, run.number())))
                .isInstanceOfSatisfying(InvalidException.class, e -> assertThat(e.problems())
                        .anySatisfy(problem -> assertThat(problem.message())
                                .contains("'{{jb}}' in line 1, column 1 of it stands for nothing; did you mean 'job'"))
                        .anySatisfy(problem -> assertThat(problem.message()).contains("is no template")));
        assertThatThrownBy(() -> service.bean(Tellings.class).retire(LiveService.SERVICE, "wording", "short"))
                .hasMessageContaining("is needed by own-words");
        assertThatThrownBy(() -> service.define("notification: n\nteam: revenue\nto: [ owner ]\nworded: shrt\n"))
                .hasMessageContaining("did you mean 'short'");
    }
}
