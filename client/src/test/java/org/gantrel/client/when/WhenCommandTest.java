package org.gantrel.client.when;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.gantrel.client.Gantrel;
import org.gantrel.core.schedule.Plan;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("gantrel when")
class WhenCommandTest {

    private static final String HOLIDAYS =
            """
            BEGIN:VCALENDAR
            PRODID:-//Lowmarsh//EN
            VERSION:2.0
            BEGIN:VEVENT
            UID:1
            DTSTAMP:20260101T000000Z
            DTSTART;VALUE=DATE:20261224
            DTEND;VALUE=DATE:20261227
            SUMMARY:Christmas
            END:VEVENT
            END:VCALENDAR
            """
                    .replace("\n", "\r\n");

    @TempDir
    private Path folder;

    private final ByteArrayOutputStream said = new ByteArrayOutputStream();
    private final PrintStream error = System.err;
    private Path out;

    @BeforeEach
    void listen() throws IOException {
        System.setErr(new PrintStream(said, true, StandardCharsets.UTF_8));
        out = folder.resolve("holidays.ics");
        Files.writeString(out, HOLIDAYS);
    }

    @AfterEach
    void restore() {
        System.setErr(error);
    }

    /** Runs the command as a program of its own would, and returns what it printed. */
    private JsonNode json(String... arguments) throws Exception {
        var line = new ArrayList<>(List.of("--format", "json"));
        line.addAll(List.of(arguments));
        return JsonMapper.shared().readTree(printed(line));
    }

    private static String printed(List<String> arguments) throws Exception {
        var command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-XX:TieredStopAtLevel=1",
                "-cp",
                System.getProperty("java.class.path"),
                "org.gantrel.client.Gantrel",
                "when"));
        command.addAll(arguments);
        Process process = new ProcessBuilder(command)
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        String text = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor()).as(text).isZero();
        return text;
    }

    private static List<String> occurrences(JsonNode answer) {
        return Stream.iterate(0, i -> i + 1)
                .limit(answer.path("occurrences").size())
                .map(i -> answer.path("occurrences").path(i).asString())
                .toList();
    }

    @Test
    @DisplayName("answers in JSON with the expression, its kind, its phrase, its zone and its next times")
    void answersInJson() throws Exception {
        JsonNode answer = json("45 6 * * 1-5", "--zone", "Europe/Oslo", "--from", "2026-03-20T00:00Z", "--count", "7");
        assertThat(answer.path("expression").asString()).isEqualTo("45 6 * * 1-5");
        assertThat(answer.path("kind").asString()).isEqualTo("cron");
        assertThat(answer.path("phrase").asString()).isEqualTo("every weekday at 06:45");
        assertThat(answer.path("zone").asString()).isEqualTo("Europe/Oslo");
        assertThat(occurrences(answer))
                .containsExactly(
                        "2026-03-20T05:45:00Z",
                        "2026-03-23T05:45:00Z",
                        "2026-03-24T05:45:00Z",
                        "2026-03-25T05:45:00Z",
                        "2026-03-26T05:45:00Z",
                        "2026-03-27T05:45:00Z",
                        "2026-03-30T04:45:00Z");
    }

    @Test
    @DisplayName("takes a rule with its own start and zone, and a bare one that begins with --from")
    void takesRules() throws Exception {
        JsonNode own = json(
                "DTSTART;TZID=Europe/Oslo:20260105T090000\nRRULE:FREQ=WEEKLY;INTERVAL=2;BYDAY=MO;COUNT=3",
                "--zone",
                "UTC",
                "--from",
                "2026-01-05T08:00:00Z");
        assertThat(own.path("kind").asString()).isEqualTo("rrule");
        assertThat(own.path("zone").asString()).isEqualTo("Europe/Oslo");
        assertThat(occurrences(own)).containsExactly("2026-01-19T08:00:00Z", "2026-02-02T08:00:00Z");
        JsonNode bare = json("FREQ=DAILY;COUNT=2", "--zone", "Europe/Oslo", "--from", "2026-07-01T06:30:00Z");
        assertThat(occurrences(bare)).containsExactly("2026-07-01T06:30:00Z", "2026-07-02T06:30:00Z");
        assertThat(bare.path("phrase").asString()).isEqualTo("every day at 08:30 from 2026-07-01, 2 times");
        assertThat(printed(List.of("FREQ=MINUTELY;BYSECOND=0,30", "--from", "2026-07-01T06:30:00Z", "--zone", "UTC")))
                .contains("Wed 2026-07-01 06:30:00 ", "Wed 2026-07-01 06:30:30 ");
    }

    @ParameterizedTest(name = "{0}, shifted {1}: {2}")
    @CsvSource({
        "--except, skip, 2026-12-23 2026-12-27",
        "--except, following, 2026-12-23 2026-12-27",
        "--calendar, skip, 2026-12-24 2026-12-25",
        "--calendar, preceding, 2026-12-24 2026-12-25",
    })
    @DisplayName("keeps to the days of a file or off them")
    void keepsToDays(String option, String shift, String days) throws Exception {
        JsonNode answer = json(
                "every day at 12:00",
                "--zone",
                "UTC",
                "--from",
                "2026-12-22T13:00:00Z",
                "--count",
                "2",
                option,
                out.toString(),
                "--shift",
                shift);
        assertThat(occurrences(answer).stream().map(at -> at.substring(0, 10))).containsExactly(days.split(" "));
    }

    @ParameterizedTest(name = "{0} {1}: {2}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "evry day at 2:30       |                       | column 1: 'evry': no part of a phrase begins so; did you mean 'every'?",
                "0 0 * * 8              |                       | column 9: weekday 8: 0 to 7, where 0 and 7 are Sunday",
                "FREQ=DALY              |                       | did you mean 'DAILY'?",
                "every day at 05:00     | --zone=Europe/Olso    | 'Europe/Olso' is no time zone; did you mean 'Europe/Oslo'?",
                "every day at 05:00     | --from=soon           | an instant such as 2026-03-20T00:00Z would be right",
                "every day at 05:00     | --count=0             | 1 to 1000 would be right",
                "every day at 05:00     | --shift=later         | skip, following, preceding, modified-following, nearest",
                "every day at 05:00     | --except=nowhere.ics  | there is no file nowhere.ics"
            })
    @DisplayName("refuses what is wrong, says what would be right, and exits with 2")
    void refuses(String expression, String option, String message) {
        var arguments = new ArrayList<>(List.of("when", expression.strip()));
        if (option != null) {
            arguments.add(option);
        }
        assertThat(Gantrel.run(arguments.toArray(String[]::new))).isEqualTo(2);
        assertThat(said.toString(StandardCharsets.UTF_8)).contains(message);
    }

    @Test
    @DisplayName("warns of what a person should beware of, without failing")
    void warns() throws Exception {
        JsonNode answer = json("0 6 31 4 *", "--zone", "UTC");
        assertThat(occurrences(answer)).isEmpty();
        assertThat(answer.path("cautions").path(0).asString()).isEqualTo("it never comes");
        String table = printed(
                List.of("every day at 02:30", "--zone", "Europe/Oslo", "--from", "2027-03-27T12:00Z", "--count", "1"));
        assertThat(table).contains("Sun 2027-03-28 03:30", "clocks go forward at 02:00");
        assertThat(Plan.placeIn(Duration.ofMinutes(5), "x")).isLessThan(Duration.ofMinutes(5));
        assertThat(Instant.parse(
                        occurrences(json("every day at 02:30", "--zone", "UTC")).get(0)))
                .isAfter(Instant.now().minusSeconds(1));
    }
}
