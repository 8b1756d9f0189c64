package org.gantrel.core.expression;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.net.URI;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Collectors;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A value in an address")
class AddressTextTest {

    private static String filled(String address, String value) {
        return new Bindings(Map.of("v", value), new PlannedTime(Instant.parse("2026-11-29T02:30:00Z"), ZoneOffset.UTC))
                .fillAddress(address);
    }

    @ParameterizedTest(name = "{0} with {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "http://kiosk.example.org/state/${v}         | mainland          | http://kiosk.example.org/state/mainland",
                "http://kiosk.example.org/state/${v}/now     | Skarhølm 50%      | http://kiosk.example.org/state/Skarh%C3%B8lm%2050%25/now",
                "http://kiosk.example.org/${v}?all=yes       | a/b?c#d           | http://kiosk.example.org/a%2Fb%3Fc%23d?all=yes",
                "http://kiosk.example.org/?port=${v}&all=yes | a&all=no+1        | http://kiosk.example.org/?port=a%26all%3Dno%2B1&all=yes",
                "http://${v}/state                           | 192.0.2.7:8080    | http://192.0.2.7:8080/state",
                "http://${v}/state                           | example.org/kiosk | http://example.org/kiosk/state",
                "${v}                                        | http://a.example.org/x?y=1&z=2 | http://a.example.org/x?y=1&z=2",
                "${v}/tickets/${v}                           | http://a.example.org | http://a.example.org/tickets/http%3A%2F%2Fa.example.org",
                "http://a.example.org${v}                    | /state?all=yes    | http://a.example.org/state?all=yes",
                "${'http://a.example.org/' + v}              | 2026/11           | http://a.example.org/2026/11",
                "http://a.example.org/${planned.date}        | x                 | http://a.example.org/2026-11-29"
            })
    @DisplayName("stays in the part that it stands in")
    void stays(String address, String value, String expected) {
        assertThat(filled(address, value)).isEqualTo(expected);
    }

    @ParameterizedTest(name = "{0} with {1}")
    @CsvSource({
        "http://${v}/state, night@example.org",
        "http://${v}/state, example.org?x",
        "http://${v}, a#b",
        "http://a.example.org/${v}/state, ..",
        "http://a.example.org/${v}, ."
    })
    @DisplayName("is refused where it would make it another")
    void refuses(String address, String value) {
        assertThatThrownBy(() -> filled(address, value))
                .isInstanceOf(ExpressionException.class)
                .hasMessageContaining("'" + value + "' stands for a ");
    }

    @Test
    @DisplayName("is read there as what it is, whatever it is, and changes nothing else")
    void generated() {
        var random = new Random(20261129);
        List<String> letters =
                List.of("a", "7", "/", "?", "#", "&", "=", "%", "+", " ", "ø", "港", ";", "\n", ".", ":", "@");
        for (int round = 0; round < 20_000; round++) {
            String value = random.ints(1 + random.nextInt(8), 0, letters.size())
                    .mapToObj(letters::get)
                    .collect(Collectors.joining());
            if (value.matches("\\.{1,2}")) {
                continue;
            }
            URI uri = URI.create(filled("http://a.example.org:81/x/${v}/y?p=${v}&q=1#f", value));
            assertThat(uri.getAuthority()).isEqualTo("a.example.org:81");
            String[] path = uri.getRawPath().split("/", -1);
            assertThat(path).hasSize(4);
            assertThat(decoded(path[2])).isEqualTo(value);
            String[] query = uri.getRawQuery().split("&", -1);
            assertThat(query).hasSize(2);
            assertThat(decoded(query[0])).isEqualTo("p=" + value);
            assertThat(uri.getFragment()).isEqualTo("f");
        }
    }

    private static String decoded(String part) {
        return URLDecoder.decode(part, StandardCharsets.UTF_8);
    }
}
