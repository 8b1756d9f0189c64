package org.gantrel.service.telling;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("A template")
class MustachesTest {

    private static final Map<String, Object> VALUES = Map.of(
            "sentence",
            "sells <b>failed</b>",
            "facts",
            List.of(Map.of("name", "Route", "value", "sound"), Map.of("name", "Day", "value", "friday")),
            "lines",
            List.of("one", "two"),
            "hasLines",
            true);

    @Test
    @DisplayName("shows values and goes through lists")
    void showsValues() {
        assertThat(Mustaches.plain("{{#facts}}{{name}}={{value}};{{/facts}}{{#lines}}{{.}},{{/lines}}", VALUES))
                .isEqualTo("Route=sound;Day=friday;one,two,");
        assertThat(Mustaches.html("{{sentence}}", VALUES)).isEqualTo("sells &lt;b&gt;failed&lt;/b&gt;");
        assertThat(Mustaches.plain("{{^none}}nothing{{/none}}{{none}}", VALUES)).isEqualTo("nothing");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "{{sentence.class}}",
                "{{sentence.class.name}}",
                "{{sentence.bytes}}",
                "{{sentence.length}}",
                "{{facts.size}}",
                "{{class}}",
                "{{hasLines.TYPE}}",
                "{{#sentence}}{{getClass}}{{toString}}{{hashCode}}{{/sentence}}"
            })
    @DisplayName("reaches nothing but the values that it is given")
    void reachesNothingElse(String template) {
        assertThat(Mustaches.plain(template, VALUES)).isEmpty();
    }

    @Test
    @DisplayName("of JSON stays JSON whatever a value holds")
    void staysJson() {
        var random = new Random(5);
        for (int i = 0; i < 500; i++) {
            var text = new StringBuilder();
            random.ints(random.nextInt(60), 0, 0x2FF).forEach(c -> text.append((char) c));
            text.append("\"\\\n\u0000{{x}}");
            String written = Mustaches.json("{ \"text\": \"{{text}}\" }", Map.of("text", text.toString()));
            assertThat(JsonMapper.shared().readTree(written).path("text").asString())
                    .isEqualTo(text.toString());
        }
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            value = {
                "{{#a}}",
                "{{#a}}{{/b}}",
                "{{/a}}",
                "{{#a}}{{^b}}{{#c}}{{/c}}{{/b}}{{/a}}",
                "{{=<% %>=}}",
                "{{> other}}"
            })
    void isChecked(String template) {
        assertThat(Mustaches.complaint(template)).isNotEmpty();
    }

    @Test
    @DisplayName("that is right is not complained of")
    void isFine() {
        assertThat(Mustaches.complaint("{ \"a\": \"{{sentence}}\", \"b\": [ {{#facts}}\"{{name}}\"{{/facts}} ] }"))
                .isEmpty();
    }
}
