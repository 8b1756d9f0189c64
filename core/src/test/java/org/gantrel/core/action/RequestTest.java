package org.gantrel.core.action;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.StringReader;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Collectors;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamReader;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.PlannedTime;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The body of a request")
class RequestTest {

    private static final String FORM = "application/x-www-form-urlencoded";
    private static final List<String> LETTERS =
            List.of("a", "ø", " ", "&", "=", "+", "%", "<", ">", "]", "\"", "'", ";", "/", "]]>", "<![CDATA[");

    private static String body(String type, String body, String value) {
        var request = new Request(
                "POST",
                "http://a.example.org/",
                type.isEmpty() ? Map.of() : Map.of("content-type", type),
                body,
                Request.USUAL,
                "",
                Map.of(),
                Duration.ofSeconds(1),
                Optional.empty());
        return request.fill(new Bindings(
                        Map.of("v", value), new PlannedTime(Instant.parse("2026-11-29T02:30:00Z"), ZoneOffset.UTC)))
                .body();
    }

    @Test
    @DisplayName(
            "has its values as its form writes them; in a text, and where one is the whole body, they are as they are")
    void writesValues() {
        assertThat(body("", "{ \"port\": \"${v}\" }", "a\"b")).isEqualTo("{ \"port\": \"a\\\"b\" }");
        assertThat(body(FORM + "; charset=utf-8", "port=${v}&n=1", "a&n=2 ø")).isEqualTo("port=a%26n%3D2+%C3%B8&n=1");
        assertThat(body("Application/Soap+XML", "<p n='${v}'>${v}</p>", "<'&"))
                .isEqualTo("<p n='&lt;&apos;&amp;'>&lt;&apos;&amp;</p>");
        assertThat(body("text/plain", "port=${v}", "a&b <c>")).isEqualTo("port=a&b <c>");
        assertThat(body("text/xml", "${v}", "<p/>")).isEqualTo("<p/>");
        assertThat(body(FORM, "${v}", "a=1&b=2")).isEqualTo("a=1&b=2");
    }

    @Test
    @DisplayName("is read with every value as it is")
    void generated() throws Exception {
        var random = new Random(20261129);
        var readers = XMLInputFactory.newFactory();
        for (int round = 0; round < 5_000; round++) {
            String value = random.ints(1 + random.nextInt(6), 0, LETTERS.size())
                    .mapToObj(LETTERS::get)
                    .collect(Collectors.joining());
            String[] parts = body(FORM, "a=${v}&b=1", value).split("&", -1);
            assertThat(parts).hasSize(2);
            assertThat(URLDecoder.decode(parts[0], StandardCharsets.UTF_8)).isEqualTo("a=" + value);
            String xml = body("text/xml", "<r a=\"${v}\"><x>${v}</x><y><![CDATA[${v}]]></y><z>${v}</z></r>", value);
            XMLStreamReader reader = readers.createXMLStreamReader(new StringReader(xml));
            reader.nextTag();
            assertThat(reader.getAttributeValue(0)).isEqualTo(value);
            for (String name : List.of("x", "y", "z")) {
                reader.nextTag();
                assertThat(reader.getLocalName()).isEqualTo(name);
                assertThat(reader.getElementText()).as(xml).isEqualTo(value);
            }
        }
    }
}
