package org.gantrel.service.notification;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.fault.FaultLedger;
import org.gantrel.service.secret.Hmac;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("People are told")
class TellingTest extends Mailed {

    @Test
    @DisplayName("once of a fault, again while nobody sees to it, others after a while, and that it works again")
    void onceOfAFault() throws Exception {
        service.define(
                """
                notification: broken
                team: revenue
                for: { jobs: [ sells ] }
                to: [ { person: mara.holt } ]
                remind: 1 h
                then: { after: 150 min, to: [ { team: revenue, role: manager } ] }
                """);
        breaks("sells", "");
        run("sells");
        awaitMails("sells", "mara.holt@example.org: sells failed");
        MimeMessage first = about("sells");
        String text = text(first);
        assertThat(text)
                .contains("sells failed: exit code 3", "no such sale", "/runs/", "You are told by the rule broken");
        assertThat(first.getHeader("References")[0]).contains("fault-");
        run("sells");
        run("sells");
        Await.until("all are counted", () -> fault("sells").badEnds() == 3);
        CLOCK.moveBy(Duration.ofMinutes(61));
        awaitMails(
                "sells",
                "mara.holt@example.org: sells failed",
                "mara.holt@example.org: sells still fails, 3 times in a row");
        CLOCK.moveBy(Duration.ofMinutes(100));
        awaitMails(
                "sells",
                "ivo.brandt@example.org: sells still fails and nobody sees to it, 3 times in a row",
                "mara.holt@example.org: sells failed",
                "mara.holt@example.org: sells still fails, 3 times in a row");
        service.bean(FaultLedger.class).seeTo(fault("sells").id(), "mara.holt", true);
        CLOCK.moveBy(Duration.ofHours(5));
        Await.until("nothing more is due", () -> {
            service.bean(Courier.class).ring();
            return service.bean(FaultLedger.class)
                    .due(Instant.parse("2030-01-01T00:00:00Z"), 100)
                    .isEmpty();
        });
        mend("sells");
        assertThat(run("sells").state()).isEqualTo(RunState.SUCCEEDED);
        awaitMails(
                "sells",
                "ivo.brandt@example.org: sells still fails and nobody sees to it, 3 times in a row",
                "ivo.brandt@example.org: sells works again",
                "mara.holt@example.org: sells failed",
                "mara.holt@example.org: sells still fails, 3 times in a row",
                "mara.holt@example.org: sells works again");
        MyApi.Bell bell = service.bean(MyApi.class).bell(caller("ivo.brandt"), 10);
        assertThat(bell.messages()).extracting(MyApi.Rung::kind).startsWith("recovered", "further");
        assertThat(service.bean(MyApi.class)
                        .seen(caller("ivo.brandt"), Long.MAX_VALUE)
                        .unseen())
                .isZero();
    }

    @Test
    @DisplayName("again as soon as ever, though the clock is put back by hours")
    void thoughTheClockIsPutBack() throws Exception {
        service.define(
                """
                notification: slipped
                team: revenue
                for: { jobs: [ slips ] }
                to: [ { person: mara.holt } ]
                remind: 1 h
                """);
        breaks("slips", "");
        run("slips");
        awaitMails("slips", "mara.holt@example.org: slips failed");
        CLOCK.moveBy(Duration.ofHours(-5));
        Await.until("it is planned anew", () -> {
            service.bean(Courier.class).ring();
            return service.bean(FaultLedger.class).due(CLOCK.instant().plus(Duration.ofHours(1)), 100).stream()
                    .anyMatch(due -> due.id().equals(fault("slips").id()));
        });
        CLOCK.moveBy(Duration.ofMinutes(61));
        awaitMails("slips", "mara.holt@example.org: slips failed", "mara.holt@example.org: slips still fails");
        mend("slips");
        run("slips");
        awaitMails(
                "slips",
                "mara.holt@example.org: slips failed",
                "mara.holt@example.org: slips still fails",
                "mara.holt@example.org: slips works again");
    }

    @Test
    @DisplayName("not in quiet hours of what can wait, and then of all of it in one mail; at once of what is urgent")
    void notInQuietHours() throws Exception {
        service.define(
                """
                notification: calm
                team: revenue
                for: { labels: [ calm ] }
                to: [ { person: ivo.brandt } ]
                ---
                notification: pressing
                team: revenue
                for: { jobs: [ presses ] }
                to: [ { person: ivo.brandt } ]
                urgency: urgent
                """);
        breaks("waits-one", "labels: [ calm ]\n");
        breaks("waits-two", "labels: [ calm ]\n");
        breaks("presses", "");
        CLOCK.moveTo(CLOCK.instant()
                .atZone(ZoneOffset.UTC)
                .toLocalDate()
                .plusDays(1)
                .atTime(1, 0)
                .toInstant(ZoneOffset.UTC));
        run("waits-one");
        run("waits-two");
        mend("waits-two");
        run("waits-two");
        run("presses");
        awaitMails("waits-|presses", "ivo.brandt@example.org: presses failed");
        CLOCK.moveBy(Duration.ofHours(5));
        awaitMails(
                "waits-|presses",
                "ivo.brandt@example.org: 3 messages: waits-one failed and 2 more",
                "ivo.brandt@example.org: presses failed");
        mend("waits-one");
        mend("presses");
        run("waits-one");
        run("presses");
        Await.until("all is well", () -> mails("waits-|presses").size() == 4);
    }

    @Test
    @DisplayName("of a storm by a few mails and one that lists the rest")
    void ofAStorm() throws Exception {
        var names = new CopyOnWriteArrayList<String>();
        for (int i = 0; i < 12; i++) {
            names.add("storm-" + i);
            breaks("storm-" + i, "notify: { failed: [ storm@example.org ] }\n");
        }
        names.forEach(name -> service.start(name));
        Await.until("the first are out", () -> mails("storm").size() == 3);
        Await.until("all are written down", () -> deliveries("storm@example.org") == 12);
        CLOCK.moveBy(Duration.ofMinutes(3));
        Await.until("the rest go as one", () -> {
            service.bean(Courier.class).ring();
            return mails().stream().anyMatch(line -> line.startsWith("storm@example.org: 9 messages"));
        });
        assertThat(mails("storm")).hasSize(4);
        for (String name : names) {
            mend(name);
            run(name);
        }
        CLOCK.moveBy(Duration.ofMinutes(3));
        Await.until("that all is well too", () -> {
            service.bean(Courier.class).ring();
            return deliveries("storm@example.org") == 24 && mails("storm").size() <= 9;
        });
    }

    private static long deliveries(String address) {
        return service.bean(DeliveryStore.class).findAll().stream()
                .filter(each -> each.address().equals(address) && !each.kind().equals("gathered"))
                .count();
    }

    /** A system that is out of order at the first call, and notes of each whether it was signed rightly. */
    private static HttpServer desk(List<String> got) throws IOException {
        HttpServer desk = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        desk.createContext("/hook", exchange -> {
            String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            String time = exchange.getRequestHeaders().getFirst("Gantrel-Time");
            String signed = exchange.getRequestHeaders().getFirst("Gantrel-Signature");
            boolean broken = got.isEmpty();
            got.add(("sha256=" + Hmac.hex("s3cret-of-the-desk", time + "." + body)).equals(signed) + " " + body);
            byte[] answer = (broken ? "out of order" : "").getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(broken ? 500 : 204, broken ? answer.length : -1);
            exchange.getResponseBody().write(answer);
            exchange.close();
        });
        desk.start();
        return desk;
    }

    @Test
    @DisplayName("by calls to other systems, signed, with the other side's own words where it does not take one")
    void byCalls() throws Exception {
        var got = new CopyOnWriteArrayList<String>();
        HttpServer desk = desk(got);
        try {
            service.bean(Credentials.class)
                    .keep(
                            LiveService.SERVICE,
                            "desk-key",
                            new Credentials.Draft(
                                    "revenue",
                                    CredentialKind.SECRET,
                                    "",
                                    Map.of(),
                                    Map.of("value", "s3cret-of-the-desk"),
                                    null,
                                    List.of(),
                                    List.of()));
            service.define(
                    """
                    channel: desk
                    team: revenue
                    call: http://127.0.0.1:%d/hook
                    signed-with: desk-key
                    ---
                    notification: to-desk
                    team: revenue
                    for: { jobs: [ calls ] }
                    to: [ { team: revenue, role: operator } ]
                    by: desk
                    """
                            .formatted(desk.getAddress().getPort()));
            breaks("calls", "");
            run("calls");
            Await.until("the desk is tried", () -> got.size() >= 1);
            Await.until("its words are kept", () -> service.bean(DeliveryStore.class).findAll().stream()
                    .anyMatch(each ->
                            "it answered 500: out of order".equals(each.view("").lastError())));
            CLOCK.moveBy(Duration.ofMinutes(1));
            Await.until("it is tried again", () -> {
                service.bean(Courier.class).ring();
                return got.stream().anyMatch(each -> each.startsWith("true {\"specversion\":\"1.0\""));
            });
            assertThat(got.get(0)).contains("\"type\":\"gantrel.message.first\"", "calls failed");
            ChannelApi.Tried tried = service.bean(ChannelApi.class).test(LiveService.SERVICE, "desk", null);
            assertThat(tried.taken()).isTrue();
            mend("calls");
            run("calls");
            Await.until("it works again", () -> got.stream().anyMatch(each -> each.contains("message.recovered")));
        } finally {
            desk.stop(0);
        }
    }

    @Test
    @DisplayName("as they wish: who follows is told, who mutes is not, and who may not see a run learns little of it")
    void asTheyWish() throws Exception {
        service.define("notification: all-of-us\nteam: revenue\nfor: { jobs: [ wishes ] }\n"
                + "to: [ { team: revenue, role: operator }, { person: tove.lind } ]\n");
        breaks("wishes", "owner: mara.holt\n");
        MyApi my = service.bean(MyApi.class);
        my.say(caller("mara.holt"), "wishes", new MyApi.InterestBody(false, null));
        say("tove.lind", "", "00:00", "00:00", "urgent");
        run("wishes");
        awaitMails("wishes", "ivo.brandt@example.org: wishes failed", "tove.lind@example.org: wishes failed");
        for (MimeMessage each : mail.getReceivedMessages()) {
            if (!line(each).contains("wishes")) {
                continue;
            }
            String text = text(each);
            assertThat(text.contains("no such sale")).isEqualTo(line(each).startsWith("ivo"));
        }
        my.takeBack(caller("mara.holt"), "wishes");
        ToldApi.ToldView told = service.bean(ToldApi.class)
                .told(caller("mara.holt"), "wishes", "failed", Instant.parse("2026-11-29T02:00:00Z"));
        assertThat(told.lines())
                .extracting(line -> line.reached() + " " + line.at())
                .containsExactlyInAnyOrder(
                        "mara.holt <mara.holt@example.org> 2026-11-29T02:00:00Z",
                        "ivo.brandt <ivo.brandt@example.org> 2026-11-29T06:00:00Z",
                        "tove.lind <tove.lind@example.org> 2026-11-29T02:00:00Z");
        assertThatThrownBy(() -> my.say(caller("tove.lind"), "wishes", new MyApi.InterestBody(true, null)))
                .hasMessageContaining("there is no job");
        mend("wishes");
        run("wishes");
        Await.until("all is well", () -> mails("wishes").size() == 4);
    }
}
