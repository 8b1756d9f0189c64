package org.gantrel.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The words a text is found by")
class SearchWordsTest {

    @Test
    @DisplayName("are its own in lower case, and joined ones from each part on")
    void areItsOwn() {
        assertThat(SearchWords.of("Settle-tickets 2026-11-22 (exit code 3)"))
                .containsExactly("settle-tickets", "tickets", "2026-11-22", "11-22", "22", "exit", "code", "3");
        assertThat(SearchWords.lookedFor(" 2026-11 \"Settle-t\" ")).containsExactly("2026-11", "settle-t");
    }

    @Test
    @DisplayName("are bounded in length and number, and none where there is nothing to find")
    void areBounded() {
        assertThat(SearchWords.of("x".repeat(10_000))).containsExactly("x".repeat(SearchWords.LONGEST));
        assertThat(SearchWords.of("a-".repeat(10_000))).hasSizeLessThanOrEqualTo(60);
        assertThat(SearchWords.of(" -- ... ")).isEmpty();
    }
}
