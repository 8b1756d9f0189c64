package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The outbox")
class OutboxUnderFireTest {

    private static final int RECEIVERS = 50;
    /** Ten thousand take minutes: {@code -Dgantrel.messages=10000 -Dgantrel.kills=10} tries them. */
    private static final int RUNS = Integer.getInteger("gantrel.messages", 300) / RECEIVERS;

    private static final int KILLS = Integer.getInteger("gantrel.kills", 2);

    @Test
    @DisplayName(
            "loses no mail, and sends at most one twice a kill, while the service is killed and the mail server stalls, refuses and hangs up")
    void losesNothing() throws Exception {
        Map<String, Integer> wanted = new HashMap<>();
        try (var mail = new MoodyMail();
                Service service = Service.fresh(
                        "--mail-host",
                        "127.0.0.1",
                        "--mail-port",
                        String.valueOf(mail.port()),
                        "--mail-from",
                        "gantrel@example.org")) {
            Http admin = Work.settle(service);
            admin.bringIn(definitions(wanted)).expect(200);
            for (int i = 0; i < RUNS; i++) {
                admin.start("tell-" + i, Map.of());
            }
            var random = new Random(67);
            for (int kill = 1; kill <= KILLS; kill++) {
                int share = kill * wanted.size() / (KILLS + 1);
                Await.until(share + " were taken", () -> mail.taken().size() >= share);
                mail.be(MoodyMail.Mood.values()[1 + random.nextInt(3)]);
                long moment = System.nanoTime() + random.nextInt(1_500_000_000);
                Await.until("a moment has come", () -> System.nanoTime() >= moment);
                boolean wellFirst = random.nextBoolean();
                if (wellFirst) {
                    mail.be(MoodyMail.Mood.WELL);
                }
                service.killForAWhile();
                mail.be(MoodyMail.Mood.WELL);
                service.start();
            }
            for (int part = 1; part <= 10; part++) {
                int share = part * wanted.size() / 10;
                Await.until(share + " were taken", () -> mail.taken().size() >= share);
            }
            Await.until("none waits any more", () -> service.admin()
                    .get("/api/v1/deliveries?state=waiting")
                    .body()
                    .isEmpty());
            Map<String, Integer> taken = mail.taken();
            assertThat(taken.keySet()).isEqualTo(wanted.keySet());
            assertThat(taken.values()).allMatch(count -> count <= 2);
            assertThat(taken.values().stream().filter(count -> count > 1))
                    .as("mails that went out twice, after %d kills", KILLS)
                    .hasSizeLessThanOrEqualTo(KILLS);
        }
    }

    /** Jobs and rules that tell many of them. @param wanted takes how many mails each receiver is to get */
    private static String definitions(Map<String, Integer> wanted) {
        var text = new StringBuilder();
        for (int i = 0; i < RUNS; i++) {
            List<String> receivers = new ArrayList<>();
            for (int j = 0; j < RECEIVERS; j++) {
                receivers.add("r" + j + "-of-" + i + "@example.org");
            }
            receivers.forEach(each -> wanted.put(each, 1));
            // nobody gets more than one: who gets many within minutes gets one that lists them
            text.append(
                    """
                    ---
                    notification: rule-%d
                    team: revenue
                    for: { jobs: [ tell-%d ] }
                    tells: [ succeeded ]
                    to: [ %s ]
                    ---
                    task: tell-%d
                    team: revenue
                    does: { command: [ "true" ] }
                    """
                            .formatted(i, i, String.join(", ", receivers), i));
        }
        return text.toString();
    }
}
