package org.gantrel.service.settings;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import org.gantrel.core.problem.InvalidException;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("The settings of a service")
class SettingsReaderTest {

    @TempDir
    private Path data;

    @Test
    @DisplayName("come from options first, then from the environment, then from gantrel.yaml")
    void comeInOrder() throws IOException {
        Files.writeString(
                data.resolve("gantrel.yaml"),
                """
                port: 1
                address: 0.0.0.0
                runs-at-once: 3
                zone: Europe/Oslo
                least-free-space: 2GB
                log-limit: 5MB
                mail-host: mail.example.org
                mail-encryption: starttls
                """);
        Settings settings = SettingsReader.read(
                data, Map.of("port", "9000"), Map.of("GANTREL_PORT", "8000", "GANTREL_RUNS_AT_ONCE", "5"));
        assertThat(settings.port()).isEqualTo(9000);
        assertThat(settings.limits().runsAtOnce()).isEqualTo(5);
        assertThat(settings.address()).isEqualTo("0.0.0.0");
        assertThat(settings.zone().getId()).isEqualTo("Europe/Oslo");
        assertThat(settings.url())
                .as("all addresses of a host are none to go to")
                .matches("http://[^:]+:9000")
                .doesNotContain("0.0.0.0");
        assertThat(SettingsReader.read(data, Map.of("address", "::1", "port", "9000"), Map.of())
                        .url())
                .isEqualTo("http://[::1]:9000");
        assertThat(settings.limits().leastFreeSpace()).isEqualTo(2L << 30);
        assertThat(settings.limits().largestLog()).isEqualTo(5L << 20);
        assertThat(settings.mail().orElseThrow().encryption()).isEqualTo(Settings.Mail.Encryption.STARTTLS);
        assertThat(settings.mail().orElseThrow().toString()).isEqualTo("mail server mail.example.org:25");
    }

    @Test
    @DisplayName("are usual ones where nothing is said: loopback only, no mail")
    void areUsualOnes() {
        Settings settings = SettingsReader.read(data, Map.of(), Map.of());
        assertThat(settings.address()).isEqualTo("127.0.0.1");
        assertThat(settings.port()).isEqualTo(8480);
        assertThat(settings.mail()).isEmpty();
    }

    @Test
    @DisplayName("remember by whose word they hold, the nearest one's")
    void rememberWhoSaid() throws IOException {
        Files.writeString(data.resolve("gantrel.yaml"), "port: 1234\nzone: Europe/Oslo\nruns-at-once: 4\n");
        Settings read = SettingsReader.read(
                data, Map.of("port", "4321"), Map.of("GANTREL_PORT", "1111", "GANTREL_RUNS_AT_ONCE", "8"));
        assertThat(read.said())
                .isEqualTo(Map.of("port", "--port", "zone", "gantrel.yaml", "runs-at-once", "GANTREL_RUNS_AT_ONCE"));
    }

    @Test
    @DisplayName("keep events of some types longer or shorter, and name what is no type")
    void keepEventsByType() {
        Settings read = SettingsReader.read(
                data, Map.of("keep-events-of", "signin.*=400 days, run.created = 30 days"), Map.of());
        assertThat(read.keep().ofTypes())
                .isEqualTo(Map.of("signin.*", Duration.ofDays(400), "run.created", Duration.ofDays(30)));
        assertThatThrownBy(() -> SettingsReader.read(
                        data, Map.of("keep-events-of", "run.creatd=1 day, signin.*, sign.*=2 days"), Map.of()))
                .hasMessageContaining("'run.creatd': a type of event")
                .hasMessageContaining("did you mean 'run.created'?")
                .hasMessageContaining("'signin.*': a type and a length")
                .hasMessageContaining("'sign.*'");
    }

    @Test
    @DisplayName("take several mail servers, in the order in which they are asked")
    void takeSeveralMailServers() {
        Settings.Mail mail = SettingsReader.read(
                        data,
                        Map.of("mail-host", "mail.example.org, spare.example.org:2525", "mail-port", "587"),
                        Map.of())
                .mail()
                .orElseThrow();
        assertThat(mail.all())
                .extracting(each -> each.host() + " " + each.port())
                .containsExactly("mail.example.org 587", "spare.example.org 2525");
        assertThat(SettingsReader.read(data, Map.of("mail-host", "::1, [fe80::7]:2525, relay"), Map.of())
                        .mail()
                        .orElseThrow()
                        .all())
                .extracting(each -> each.host() + " " + each.port())
                .containsExactly("::1 25", "fe80::7 2525", "relay 25");
        assertThatThrownBy(() -> SettingsReader.read(
                        data, Map.of("mail-host", "mail.example.org:many", "mail-encryption", "strong"), Map.of()))
                .hasMessageContaining("mail-encryption: 'strong'")
                .hasMessageContaining("mail-host: 'mail.example.org:many': a host, or HOST:PORT");
    }

    @Test
    @DisplayName("that are wrong are all named, those of the file with their line")
    void thatAreWrong() throws IOException {
        Files.writeString(data.resolve("gantrel.yaml"), "port: 1\nprot: 2\n");
        assertThatThrownBy(() -> SettingsReader.read(
                        data,
                        Map.of(
                                "grace",
                                "soon",
                                "least-free-space",
                                "much",
                                "log-limit",
                                "10KB",
                                "zone",
                                "Europe/Olso",
                                "memory",
                                "lots"),
                        Map.of("GANTREL_PORT", "-1")))
                .isInstanceOf(InvalidException.class)
                .hasMessageContaining("line 2, column 1: prot: unknown key; did you mean 'port'?")
                .hasMessageContaining("port: '-1': a number from 0 to 65535 would be right")
                .hasMessageContaining(
                        "grace: 'soon': a duration, such as 90 s, 30 min, 1 h 30 min or 2 days, would be right")
                .hasMessageContaining("least-free-space: 'much': a size such as 20MB or 1GB would be right")
                .hasMessageContaining("log-limit: '10KB': at least 1MB would be right")
                .hasMessageContaining("zone: 'Europe/Olso' is no time zone; did you mean 'Europe/Oslo'?")
                .hasMessageContaining("memory: 'lots': how much memory, such as 320m or 2g, would be right");
    }

    @ParameterizedTest(name = "{0}")
    @ValueSource(strings = {"a;b", "a\\b", "a\nb"})
    @DisplayName("refuse a data folder where the database would be somewhere else")
    void noPlace(String name) {
        assertThatThrownBy(() -> SettingsReader.read(data.resolve(name), Map.of(), Map.of()))
                .hasMessageContaining("a path without ';'");
    }
}
