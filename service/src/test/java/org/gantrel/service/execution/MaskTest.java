package org.gantrel.service.execution;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A mask")
class MaskTest {

    @Test
    @DisplayName("covers every secret wherever it stands, the longer one first")
    void coversEverySecret() {
        Mask mask = Mask.of(Map.of("short", "pass", "long", "password-1", "empty", ""));
        assertThat(mask.over("pass password-1 compass")).isEqualTo("•••••• •••••• com••••••");
        assertThat(mask.over("nothing here")).isEqualTo("nothing here");
    }

    @Test
    @DisplayName(
            "covers a secret in base64 wherever it stands in the text that is encoded, in addresses, in JSON and in XML")
    void coversOtherForms() {
        Mask mask = Mask.of(List.of("low tide/at noon?"));
        for (String before : List.of("", "a", "ab", "settle:")) {
            for (String after : List.of("", "x", "xy")) {
                String text = before + "low tide/at noon?" + after;
                String plain = Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8));
                String url =
                        Base64.getUrlEncoder().withoutPadding().encodeToString(text.getBytes(StandardCharsets.UTF_8));
                assertThat(mask.over(plain)).as(plain).contains("••••••").hasSizeLessThan(26);
                assertThat(mask.over(url)).as(url).contains("••••••").hasSizeLessThan(26);
            }
        }
        assertThat(mask.over("?key=low%20tide%2Fat%20noon%3F&x")).isEqualTo("?key=••••••&x");
        assertThat(mask.over("key=low+tide%2Fat+noon%3F")).isEqualTo("key=••••••");
        Mask signs = Mask.of(List.of("low<\"tide'&\\noon"));
        assertThat(signs.over("{\"key\":\"low<\\\"tide'&\\\\noon\"}")).isEqualTo("{\"key\":\"••••••\"}");
        assertThat(signs.over("<k a='low&lt;&quot;tide&apos;&amp;\\noon'>low&lt;&quot;tide&#39;&amp;\\noon</k>"))
                .isEqualTo("<k a='••••••'>••••••</k>");
    }

    @Test
    @DisplayName("covers a secret of many lines line by line where a text comes by the line, the longest first")
    void coversLineByLine() {
        List<String> lines = Mask.lines(List.of("short", "first line\nsecond\n\nfirst line", ""))
                .lines()
                .toList();
        assertThat(lines).contains("first line", "second", "short", "c2Vjb25k").doesNotHaveDuplicates();
        assertThat(lines)
                .isSortedAccordingTo(Comparator.comparing(String::length).reversed());
        assertThat(Mask.lines(List.of())).isEmpty();
        assertThat(Mask.of(List.of("a-key", "key")).over("my a-key, a key")).isEqualTo("my ••••••, a ••••••");
    }
}
