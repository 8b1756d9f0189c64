package org.gantrel.service.trigger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import org.gantrel.service.refusal.Refusal;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("What a call from outside says")
class CallSaidTest {

    private static CallSaid read(String type, String body, String... headers) {
        Map<String, String> all = new HashMap<>();
        all.put("content-type", type.isEmpty() ? null : type);
        for (int i = 0; i < headers.length; i += 2) {
            all.put(headers[i], headers[i + 1]);
        }
        return CallSaid.read(body.getBytes(StandardCharsets.UTF_8), name -> all.get(name.toLowerCase(Locale.ROOT)));
    }

    @Test
    @DisplayName("is read from JSON as deep as it goes, with lists and nothing as they are")
    void readsJson() {
        CallSaid said = read(
                "application/json; charset=utf-8",
                "{\"a\": 1, \"b\": {\"c\": true, \"d\": {\"e\": \"x\"}}, \"f\": [1, {\"g\": 2}], \"h\": null, \"i\": {}}");
        assertThat(said.values())
                .containsOnly(
                        Map.entry("a", "1"),
                        Map.entry("b.c", "true"),
                        Map.entry("b.d.e", "x"),
                        Map.entry("f", "[1,{\"g\":2}]"),
                        Map.entry("h", ""));
        assertThat(said.key()).isEmpty();
        assertThat(read("", "").values()).isEmpty();
        assertThat(read("application/json", " ", "idempotency-key", " k ").key())
                .isEqualTo("k");
    }

    @Test
    @DisplayName("is read in the character set that it names, UTF-8 where it names none, and in no other")
    void characterSets() {
        String form = "application/x-www-form-urlencoded";
        assertThat(read(form, "a=ø+%C3%B8%2B%25&ø=1").values()).isEqualTo(Map.of("a", "ø ø+%", "ø", "1"));
        assertThat(read(form + "; charset=ISO-8859-1", "a=%F8+b").values()).isEqualTo(Map.of("a", "ø b"));
        byte[] latin = "{\"port\": \"Skarhølm\"}".getBytes(StandardCharsets.ISO_8859_1);
        assertThat(CallSaid.read(
                                latin,
                                header ->
                                        header.equals("Content-Type") ? "application/json; charset=windows-1252" : null)
                        .values())
                .isEqualTo(Map.of("port", "Skarhølm"));
        assertThatThrownBy(
                        () -> CallSaid.read(latin, header -> header.equals("Content-Type") ? "application/json" : null))
                .hasMessageContaining("the body is not written in UTF-8");
        assertThatThrownBy(() -> read(form, "a=%F8")).hasMessageContaining("the body is not written in UTF-8");
        assertThatThrownBy(() -> read(form, "a=%F")).hasMessageContaining("the body is no form");
    }

    @Test
    @DisplayName("is read from forms and from CloudEvents in both modes, which have a key of their own")
    void readsOthers() {
        assertThat(read("application/x-www-form-urlencoded", "a=1&b=x+y%26&c&=z")
                        .values())
                .containsOnly(Map.entry("a", "1"), Map.entry("b", "x y&"), Map.entry("c", ""));
        CallSaid structured = read(
                "application/cloudevents+json",
                "{\"specversion\": \"1.0\", \"id\": \"7\", \"source\": \"/k\", \"type\": \"sold\", \"subject\": \"s\","
                        + " \"data\": {\"n\": 2}}");
        assertThat(structured).isEqualTo(new CallSaid("/k", "s", "sold", "/k 7", Map.of("n", "2")));
        CallSaid binary = read(
                "application/json",
                "{\"n\": 2}",
                "ce-id",
                "7",
                "ce-source",
                "/k",
                "ce-type",
                "sold",
                "ce-subject",
                "s");
        assertThat(binary).isEqualTo(structured);
        assertThat(read("application/json", "{}", "ce-id", "7", "idempotency-key", "mine")
                        .key())
                .isEqualTo("mine");
    }

    @ParameterizedTest(name = "{0} {1}: {2}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "application/json | { | is no JSON",
                "application/json | [] | is no object of JSON",
                "application/json | null | is no object of JSON",
                "application/xml | <a/> | application/xml",
                "`` | x | nothing",
                "application/x-www-form-urlencoded | a=%zz | is no form",
                "application/cloudevents+json | {} | specversion",
                "application/cloudevents+json | {\"specversion\": \"1.0\", \"id\": \"1\", \"source\": \"x\"} | has 'type'"
            })
    void isRefused(String type, String body, String why) {
        assertThatThrownBy(() -> read(type, body)).isInstanceOf(Refusal.class).hasMessageContaining(why);
    }

    @Test
    @DisplayName("is bounded in depth, number and length")
    void isBounded() {
        assertThatThrownBy(() -> read("application/json", "{\"a\":".repeat(12) + "1" + "}".repeat(12)))
                .hasMessageContaining("nested deeper");
        var many = new StringBuilder("{");
        for (int i = 0; i < 300; i++) {
            many.append(i == 0 ? "" : ",").append("\"a").append(i).append("\": 1");
        }
        assertThatThrownBy(() -> read("application/json", many + "}")).hasMessageContaining("more than 200 values");
        assertThatThrownBy(() -> read("application/json", "{\"a\": \"" + "x".repeat(16_000) + "\"}"))
                .hasMessageContaining("says too much");
        assertThatThrownBy(() -> read("application/json", "{}", "ce-source", "x".repeat(501)))
                .hasMessageContaining("ce-source");
    }
}
