package org.gantrel.service.notification;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import org.gantrel.core.access.Role;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.TestSettings;
import org.gantrel.service.run.Run;
import org.gantrel.service.team.Caller;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("The outbox")
class OutboxTest {

    private static final MovableClock CLOCK = new MovableClock(Instant.parse("2026-11-23T11:00:00Z"));
    private static final Caller OPERATOR = new Caller("olga", "Olga", false, Map.of("revenue", Role.OPERATOR));
    private static final Caller VIEWER = new Caller("vera", "Vera", false, Map.of("revenue", Role.VIEWER));

    @TempDir
    static Path folder;

    private static LiveService service;
    private static int port;

    @BeforeAll
    static void open() throws IOException {
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        service = LiveService.fresh(folder, CLOCK, settings -> TestSettings.withMail(settings, port));
    }

    @AfterAll
    static void close() {
        service.close();
    }

    private static List<DeliveryRecord> to(String address) {
        return service.bean(DeliveryStore.class).findAll().stream()
                .filter(each -> each.address().equals(address))
                .toList();
    }

    private static DeliveryRecord tell(String job, String address) {
        service.task(job, "exit 3", "notify: { failed: [ " + address + " ] }\n");
        service.ended(service.start(job));
        Await.until("it is written down", () -> to(address).size() == 1);
        return to(address).get(0);
    }

    @Test
    @DisplayName("keeps what the server does not take, says why, sends again, and gives up when it is told to")
    void keepsAndSends() throws Exception {
        DeliveryRecord first = tell("away", "away@example.org");
        Await.until("it is tried", () -> to("away@example.org").get(0).view("").tries() > 0);
        assertThat(to("away@example.org").get(0).view("").lastError()).contains("Connection refused");
        DeliveryApi api = service.bean(DeliveryApi.class);
        assertThat(api.list(OPERATOR, 50, Long.MAX_VALUE, "waiting", "").getBody())
                .extracting(DeliveryView::id)
                .contains(first.id());
        assertThat(api.list(VIEWER, 50, Long.MAX_VALUE, "", "").getBody()).isEmpty();
        assertThatThrownBy(() -> api.list(OPERATOR, 50, Long.MAX_VALUE, "wating", ""))
                .hasMessageContaining("did you mean 'waiting'");
        assertThatThrownBy(() -> api.again(VIEWER, first.id())).hasMessageContaining("there is no message");
        assertThat(api.show(OPERATOR, first.id()).body()).contains("away failed: exit code 3");
        DeliveryRecord other = tell("given-up", "given-up@example.org");
        Await.until(
                "it is tried", () -> to("given-up@example.org").get(0).view("").tries() > 0);
        assertThat(api.giveUp(OPERATOR, other.id()).state()).isEqualTo("failed");
        assertThatThrownBy(() -> api.giveUp(OPERATOR, other.id())).hasMessageContaining("does not wait any more");
        var mail = new GreenMail(new ServerSetup(port, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.start();
        try {
            api.again(OPERATOR, first.id());
            Await.until(
                    "it is out",
                    () -> to("away@example.org").get(0).view("").state().equals("sent"));
            CLOCK.moveBy(Duration.ofHours(1));
            service.bean(Courier.class).ring();
            // what was given up stays so
            DeliveryRecord last = tell("there", "there@example.org");
            Await.until(
                    "the last is out",
                    () -> to("there@example.org").get(0).view("").state().equals("sent"));
            assertThat(mail.getReceivedMessages())
                    .extracting(each -> each.getAllRecipients()[0].toString())
                    .contains("away@example.org", "there@example.org")
                    .doesNotContain("given-up@example.org");
            assertThat(to("given-up@example.org").get(0).view("").lastError()).startsWith("given up by olga");
            assertThat(last.eventPosition()).isPresent();
        } finally {
            mail.stop();
        }
    }

    @Test
    @DisplayName("tells each end once, however often the service is started anew meanwhile")
    void tellsOnce() throws Exception {
        var runs = new CopyOnWriteArrayList<Run>();
        for (int i = 0; i < 12; i++) {
            service.task("once-" + i, "exit 3", "notify: { failed: [ once-" + i + "@example.org ] }\n");
        }
        for (int i = 0; i < 12; i++) {
            runs.add(service.start("once-" + i));
            if (i % 4 == 1) {
                service.restart();
            }
        }
        for (Run run : new ArrayList<>(runs)) {
            service.ended(run);
        }
        for (int i = 0; i < 12; i++) {
            String address = "once-" + i + "@example.org";
            Await.until(address + " is told", () -> to(address).size() == 1);
        }
        service.restart();
        assertThat(service.bean(DeliveryStore.class).findAll().stream()
                        .filter(each -> each.address().startsWith("once-"))
                        .toList())
                .hasSize(12);
    }
}
