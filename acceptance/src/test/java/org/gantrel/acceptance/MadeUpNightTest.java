package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.StreamSupport;
import org.gantrel.acceptance.NightBooks.Try;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("A night that was made up")
class MadeUpNightTest extends OneService {

    /** Others are tried by {@code -Dgantrel.night=2 -Dgantrel.starts=1000 -Dgantrel.kills=10}. */
    private static final long NIGHT = Long.getLong("gantrel.night", 1);

    private static final int STARTS = Integer.getInteger("gantrel.starts", 40);
    private static final int KILLS = Integer.getInteger("gantrel.kills", 2);
    /** How often the host is away for a while. */
    private static final int CUTS = Integer.getInteger("gantrel.cuts", 1);

    private final MadeUpNight night = new MadeUpNight(new Random(NIGHT));
    private final Map<Long, JsonNode> runs = new TreeMap<>();
    /** When the file came that a gate waits for, by the value in its name. */
    private final Map<String, Long> came = new TreeMap<>();

    private final Random random = new Random(NIGHT);
    private final NightHands hands = new NightHands(() -> admin, night, random, this::letSomeGo, this::define);
    private final NightRules rules = new NightRules(() -> admin, night, hands, runs, came);
    /** The other host; nothing where there is no server for it on this machine. */
    private Servers.Server host;

    @Test
    @DisplayName("goes by the rules, whoever kills the service: so say the books that the commands keep themselves")
    void goesByTheRules() throws Exception {
        work.program("work.sh", NightBooks.COMMAND);
        if (Servers.openSsh().isPresent()) {
            host = Servers.startOpenSsh("");
            admin.put(
                            "/api/v1/credentials/far",
                            Map.ofEntries(
                                    Map.entry("team", "revenue"),
                                    Map.entry("kind", "ssh"),
                                    Map.entry("facts", host.facts()),
                                    Map.entry("secrets", Map.of("key", host.text("user") + "\n"))))
                    .expect(201);
        }
        try {
            List.copyOf(night.definitions).forEach(this::define);
            night.tasks.keySet().forEach(hands::noteRevision);
            play();
        } finally {
            if (host != null) {
                host.close();
            }
        }
        Map<String, Try> tries = NightBooks.read(work.read("books"));
        assertThat(tries).hasSizeGreaterThan(STARTS);
        rules.areKept(tries);
        new NightTold(admin, runs, hands).agrees();
    }

    private void define(String text) {
        String placed = text.replace("FOLDER", work.folder().toString());
        admin.bringIn(host == null ? placed.replace(MadeUpNight.ON_HOST, "") : placed)
                .expect(200);
    }

    private void play() throws Exception {
        for (int i = 1; i <= STARTS; i++) {
            int what = random.nextInt(10);
            Map<String, ?> body = what < 6
                    ? Map.of("parameters", night.values())
                    : what < 8
                            ? Map.of()
                            : Map.of("over", Map.of("roster", night.one(List.copyOf(night.rosters.keySet()))));
            String job = what == 6 || what == 7 ? night.one(List.copyOf(night.chains.keySet())) : night.aTask();
            admin.post("/api/v1/jobs/" + job + "/runs", body).expect(201);
            if (i % (STARTS / 4 + 1) == 0) {
                letCome(MadeUpNight.VALUES.charAt(came.size()));
            }
            if (i % (STARTS / 3) == 1) {
                hands.hold();
            }
            if (i % 4 == 0) {
                hands.act();
            }
            if (i * (CUTS + 1) % STARTS < CUTS + 1 && i < STARTS && host != null) {
                int begun = lines();
                host = Servers.away(host, () -> lines() > begun + 5 || onlyFarGo());
            }
            if (i * (KILLS + 1) % STARTS < KILLS + 1 && i < STARTS) {
                int begun = lines();
                Await.until("some more go", () -> lines() > begun + 5 || going().isEmpty());
                killAndStart();
            }
        }
        hands.restore();
        for (char value : MadeUpNight.VALUES.substring(came.size()).toCharArray()) {
            letCome(value);
        }
        Await.until("all have ended, and what follows them", () -> isOver() && hasFollowed());
        Await.until("their commands too", () -> NightBooks.areClosed(work.read("books")));
    }

    /** Between an end and what follows it there is a moment in which nothing waits and nothing is under way. */
    private boolean hasFollowed() {
        readRuns();
        return runs.values().stream()
                        .allMatch(run -> run.has("finishedAt")
                                || run.path("state").asString().equals("skipped"))
                && rules.haveFollowed();
    }

    private void letCome(char value) {
        came.put(String.valueOf(value), NightHands.now());
        work.write("came-" + value, "");
    }

    /** Waits until some more have begun, or nothing goes that could make room for others. */
    private void letSomeGo() {
        int begun = lines();
        Await.until("some go meanwhile", () -> lines() > begun + 3 || going().isEmpty());
    }

    /** Whether nothing goes but what waits for the host. */
    private boolean onlyFarGo() {
        return going().stream().allMatch(run -> night.asOf(
                        run.path("job").asString(), run.path("revision").asInt())
                .far());
    }

    /** The tasks that are under way. */
    private List<JsonNode> going() {
        return StreamSupport.stream(
                        admin.get("/api/v1/runs?state=running&rows=yes&limit=500")
                                .body()
                                .spliterator(),
                        false)
                .filter(run -> run.path("kind").asString().equals("task"))
                .toList();
    }

    private int lines() {
        return work.read("books").length() / 40;
    }

    private boolean isOver() {
        return admin.get("/api/v1/runs?state=waiting&rows=yes&limit=1").body().isEmpty()
                && admin.get("/api/v1/runs?state=running&rows=yes&limit=1")
                        .body()
                        .isEmpty();
    }

    private void readRuns() {
        String next = "/api/v1/runs?rows=yes&limit=500";
        while (!next.isEmpty()) {
            Http.Answer page = admin.get(next).expect(200);
            page.body().forEach(run -> runs.put(run.path("number").asLong(), run));
            next = page.next();
        }
    }
}
