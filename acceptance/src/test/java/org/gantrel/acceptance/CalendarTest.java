package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.TemporalAdjusters;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("Calendars and schedules")
class CalendarTest extends OneService {

    private static final int YEAR = LocalDate.now().getYear() + 1;

    @BeforeAll
    static void begin() {
        admin.bringIn(
                        """
                task: close-month
                team: revenue
                does: { command: [ "true" ] }
                schedules:
                  - { name: third, when: third working day of every month at 22:00, zone: Europe/Oslo, calendar: bank }
                  - { name: eve, when: day 24 of December at 12:00, zone: Europe/Oslo, calendar: bank, shift: preceding }
                ---
                calendar: bank
                team: revenue
                days: weekdays
                except: [ holidays ]
                ---
                calendar: holidays
                team: revenue
                days: none
                open: [ { on: 24 December, label: Christmas Eve }, { on: 1 January, label: New Year } ]
                """)
                .expect(200);
    }

    private static JsonNode schedule(String name) {
        for (JsonNode each : admin.get("/api/v1/schedules").body()) {
            if (each.path("name").asString().equals(name)) {
                return each;
            }
        }
        throw new AssertionError("no schedule " + name);
    }

    @Test
    @DisplayName("come in together in any order, and the schedules keep to the days")
    void comeInTogether() {
        assertThat(schedule("eve").path("next").path(0).asString()).matches("\\d{4}-12-2[123]T11:00:00Z");
        JsonNode day = admin.get("/api/v1/calendars/bank/years/" + YEAR)
                .expect(200)
                .body()
                .path(0);
        assertThat(day.path("open").asBoolean()).isFalse();
        assertThat(day.path("label").asString()).isEqualTo("New Year");
        assertThat(gantrel("calendar", "show", "bank", "--year", String.valueOf(YEAR))
                        .expect(0)
                        .out())
                .contains("Christmas Eve", "closed");
        assertThat(gantrel("calendar", "list", "--format", "csv").expect(0).out())
                .contains("bank,revenue,2,holidays");
    }

    @Test
    @DisplayName("that many starts keep to tell of a far day as of the next one, and of each day of the year")
    void tellOfManyStarts() {
        admin.bringIn("calendar: busy\nteam: revenue\ndays: weekdays\n").expect(200);
        admin.bringIn(work.task(
                        "polls",
                        "./say.sh",
                        "schedules: [ { name: minutes, when: every 10 minutes, zone: UTC, calendar: busy, on: no },"
                                + " { name: hours, when: every hour, zone: UTC, calendar: busy } ]"))
                .expect(200);
        LocalDate far = LocalDate.now(ZoneOffset.UTC).plusDays(70).with(TemporalAdjusters.next(DayOfWeek.TUESDAY));
        String closed = "calendar: busy\nteam: revenue\ndays: weekdays\nclosed: [ { on: " + far + ", label: Fair } ]\n";
        JsonNode moved = admin.post("/api/v1/calendars/preview", Map.of("definition", closed))
                .expect(200)
                .body();
        assertThat(moved.path("notCompared").asInt()).isZero();
        assertThat(moved.path("moved"))
                .extracting(
                        each -> each.path("schedule").asString(),
                        each -> each.path("before").size(),
                        each -> each.path("then").size())
                .containsExactlyInAnyOrder(tuple("minutes", 144, 0), tuple("hours", 24, 0));
        admin.put("/api/v1/jobs/polls/schedules/minutes/switch", Map.of("on", true))
                .expect(200);
        JsonNode days = admin.get("/api/v1/calendars/busy/years/" + (far.getYear() + 1))
                .expect(200)
                .body();
        assertThat(days).allSatisfy(day -> {
            boolean open = day.path("open").asBoolean();
            assertThat(day.path("starts").size()).as("%s", day).isEqualTo(open ? 24 + 25 : 0);
            assertThat(day.path("starts").toString().contains("04:00 polls, and more"))
                    .isEqualTo(open);
        });
        for (String name : List.of("polls-two", "polls-three", "polls-four")) {
            admin.bringIn(work.task(
                            name,
                            "./say.sh",
                            "schedules: [ { name: minutes, when: every 10 minutes, zone: UTC, calendar: busy } ]"))
                    .expect(200);
        }
        assertThat(admin.get("/api/v1/calendars/busy/years/" + (far.getYear() + 1))
                        .body())
                .allSatisfy(day -> assertThat(day.path("starts").size())
                        .isEqualTo(day.path("open").asBoolean() ? 100 : 0));
        for (String name : List.of("polls", "polls-two", "polls-three", "polls-four")) {
            admin.send("DELETE", "/api/v1/jobs/" + name, null);
        }
    }

    @Test
    @DisplayName("that would change say first which coming starts would move, and a faulty change changes nothing")
    void sayWhatWouldMove() {
        String definition = "calendar: bank\nteam: revenue\ndays: [ monday, tuesday ]\n";
        JsonNode moved = admin.post("/api/v1/calendars/preview?year=" + YEAR, Map.of("definition", definition))
                .expect(200)
                .body();
        assertThat(moved.path("moved").path(0).path("schedule").asString()).isEqualTo("third");
        assertThat(moved.path("moved").path(0).path("before").size()).isPositive();
        assertThat(moved.path("moved").path(0).path("then").size()).isPositive();
        assertThat(moved.path("days").size()).isGreaterThan(364);
        Http.Answer circle = admin.with("If-Match", "*")
                .put(
                        "/api/v1/calendars/holidays",
                        Map.of("definition", "calendar: holidays\nteam: revenue\nany-of: [ bank, bnk ]\n"));
        assertThat(circle.expect(422).detail()).contains("there is no calendar 'bnk'; did you mean 'bank'?");
        circle = admin.with("If-Match", "*")
                .put(
                        "/api/v1/calendars/holidays",
                        Map.of("definition", "calendar: holidays\nteam: revenue\nany-of: [ bank ]\n"));
        assertThat(circle.expect(422).detail())
                .contains("would be made of each other: holidays, then bank, then holidays");
        assertThat(admin.get("/api/v1/calendars/holidays")
                        .body()
                        .path("revision")
                        .asInt())
                .isEqualTo(1);
        assertThat(admin.put("/api/v1/calendars/bank", Map.of("definition", definition))
                        .status())
                .isEqualTo(428);
        assertThat(admin.send("DELETE", "/api/v1/calendars/bank", null)
                        .expect(409)
                        .detail())
                .contains("close-month / third");
        assertThat(admin.send("DELETE", "/api/v1/calendars/holidays", null)
                        .expect(409)
                        .detail())
                .contains("a part of bank");
    }

    @Test
    @DisplayName("move the coming times of schedules when they are saved")
    void moveSchedules() {
        admin.bringIn(
                        work.task(
                                "weekly",
                                "\"true\"",
                                """
                schedules: [ { name: w, when: every Monday at 05:00, zone: UTC, calendar: days, shift: following } ]
                ---
                calendar: days
                team: revenue
                """))
                .expect(200);
        LocalDate monday =
                LocalDate.parse(schedule("w").path("next").path(0).asString().substring(0, 10));
        JsonNode dry = admin.bringIn(
                        "calendar: days\nteam: revenue\nclosed: [ { on: " + monday + " } ]\n", "?dryRun=true")
                .expect(200)
                .body();
        assertThat(dry.path(0).path("warnings").path(0).asString())
                .startsWith("schedule w of weekly would not start at " + monday + " 05:00 (UTC), and would start at "
                        + monday.plusDays(1) + " 05:00 (UTC)");
        Http.Answer read = admin.get("/api/v1/calendars/days");
        admin.with("If-Match", read.header("ETag"))
                .put(
                        "/api/v1/calendars/days",
                        Map.of("definition", "calendar: days\nteam: revenue\nclosed: [ { on: " + monday + " } ]\n"))
                .expect(200);
        assertThat(schedule("w").path("next").path(0).asString())
                .startsWith(monday.plusDays(1).toString());
    }

    @Test
    @DisplayName("go out as iCalendar and come in again; a broken file names the event and the line")
    void goOutAndIn() {
        String ics = gantrel("calendar", "export", "holidays", "--from", YEAR + "-01-01", "--until", YEAR + "-12-31")
                .expect(0)
                .out();
        assertThat(ics).contains("DTSTART;VALUE=DATE:" + YEAR + "1224", "SUMMARY:Christmas Eve");
        work.write("holidays.ics", ics);
        String file = work.folder().resolve("holidays.ics").toString();
        gantrel("calendar", "import", file, "--name", "copy", "--team", "revenue")
                .expect(0);
        assertThat(gantrel("calendar", "show", "copy", "--year", String.valueOf(YEAR))
                        .out())
                .contains(YEAR + "-12-24", "Christmas Eve");
        assertThat(gantrel(
                                "when",
                                "every day at 07:00",
                                "--zone",
                                "Europe/Oslo",
                                "--except",
                                file,
                                "--shift",
                                "following",
                                "--from",
                                YEAR + "-12-23T12:00:00Z",
                                "--count",
                                "2",
                                "--format",
                                "csv")
                        .expect(0)
                        .out())
                .isEqualToIgnoringNewLines(YEAR + "-12-25T06:00:00Z\n" + YEAR + "-12-26T06:00:00Z\n");
        work.write("broken.ics", ics.replace("DATE:" + YEAR + "1224", "DATE:" + YEAR + "1264"));
        Shell.Result broken = gantrel(
                "calendar",
                "import",
                work.folder().resolve("broken.ics").toString(),
                "--name",
                "copy",
                "--team",
                "revenue");
        assertThat(broken.expect(2).err()).contains("line 14", "event 2", YEAR + "1264");
        assertThat(admin.get("/api/v1/calendars/copy").body().path("revision").asInt())
                .isEqualTo(1);
    }

    @Test
    @DisplayName("are looked ahead over, and a feed shows calendar programs what its maker may see, without signing in")
    void areLookedAheadOver() {
        assertThat(gantrel("forecast", "--hours", "1200", "--job", "close-month", "--format", "csv")
                        .expect(0)
                        .out())
                .contains("close-month,revenue,third");
        String address = gantrel("feed", "create", "--job", "close-month")
                .expect(0)
                .out()
                .strip();
        Http anybody = Http.unsigned(service.url());
        String path = address.substring(service.url().length());
        String feed = anybody.get(path).expect(200).text();
        assertThat(feed).contains("BEGIN:VCALENDAR", "SUMMARY:close-month", "schedule third of team revenue");
        assertThat(anybody.get("/api/v1/feeds/gf_guessed/ics").status()).isEqualTo(404);
        String id = admin.get("/api/v1/feeds").body().path(0).path("id").asString();
        gantrel("feed", "delete", id).expect(0);
        assertThat(anybody.get(path).status()).isEqualTo(404);
        assertThat(admin.get("/api/v1/forecast?from=2026-01-02T00:00:00Z&until=2026-01-01T00:00:00Z")
                        .expect(422)
                        .detail())
                .contains("at most 400 days");
    }

    @Test
    @DisplayName("are explained with their cautions before they are saved, also by a dry run")
    void areExplained() {
        JsonNode when = admin.get("/api/v1/when?zone=Europe/Oslo&count=3&calendar=bank&shift=following"
                        + "&expression=day%2031%20of%20every%20month%20at%2002:30")
                .expect(200)
                .body();
        assertThat(when.path("phrase").asString()).isEqualTo("day 31 of every month at 02:30");
        assertThat(when.path("details").size()).isEqualTo(3);
        assertThat(when.path("cautions").toString()).contains("day 31 never comes in February");
        Http.Answer wrong = admin.get("/api/v1/when?zone=Mars&calendar=bnk&shift=sideways&expression=evry");
        assertThat(wrong.expect(422).detail())
                .contains(
                        "'Mars' is no time zone", "there is no calendar 'bnk'", "'sideways'", "did you mean 'every'?");
        work.write(
                "twice.yaml",
                work.task(
                        "twice",
                        "\"true\"",
                        "schedules: [ { name: a, when: every hour, zone: UTC }, { name: b, when: \"0 6 * * *\", zone: UTC } ]"));
        Shell.Result dry = gantrel("import", work.folder().resolve("twice.yaml").toString(), "--dry-run");
        assertThat(dry.expect(0).err())
                .contains("twice / b: every day at 06:00 (UTC), next ", "schedules a and b both start at ");
    }

    @Test
    @DisplayName("are switched off many at once, all or none")
    void areSwitchedManyAtOnce() {
        admin.bringIn(
                        work.task(
                                "often",
                                "\"true\"",
                                "schedules: [ { name: x, when: every hour, zone: UTC }, { name: y, when: every day at 05:00, zone: UTC } ]"))
                .expect(200);
        Http.Answer none = admin.put(
                "/api/v1/schedules/switch",
                Map.of(
                        "on",
                        false,
                        "schedules",
                        List.of(Map.of("job", "often", "schedule", "x"), Map.of("job", "often", "schedule", "z"))));
        assertThat(none.expect(404).detail()).contains("no schedule 'z'");
        assertThat(schedule("x").path("on").asBoolean()).isTrue();
        assertThat(gantrel("schedule", "off", "often").expect(0).err())
                .contains("often / x is off", "often / y is off");
        assertThat(gantrel("schedule", "on", "--team", "revenue").expect(0).err())
                .contains("often / y is on; next");
        assertThat(gantrel("schedule", "off").expect(2).err()).contains("--team TEAM");
    }
}
