package org.gantrel.service.execution;

import static org.assertj.core.api.Assertions.assertThat;

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
    @DisplayName("covers a secret of many lines line by line where a text comes by the line, the longest first")
    void coversLineByLine() {
        assertThat(Mask.lines(List.of("short", "first line\nsecond\n\nfirst line", "")))
                .isEqualTo("first line\nsecond\nshort");
        assertThat(Mask.lines(List.of())).isEmpty();
        assertThat(Mask.of(List.of("a-key", "key")).over("my a-key, a key")).isEqualTo("my ••••••, a ••••••");
    }
}
