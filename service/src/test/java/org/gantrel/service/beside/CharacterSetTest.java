package org.gantrel.service.beside;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The character set that others are given arguments and variables in")
class CharacterSetTest {

    private static final CharacterSet ASCII = new CharacterSet(StandardCharsets.US_ASCII);
    private static final CharacterSet LATIN = new CharacterSet(StandardCharsets.ISO_8859_1);
    private static final CharacterSet ALL = new CharacterSet(StandardCharsets.UTF_8);

    private static ProcessBuilder given(String argument, String variable) {
        var builder = new ProcessBuilder("plan", argument);
        builder.environment().clear();
        builder.environment().put("PORT", variable);
        return builder;
    }

    @Test
    @DisplayName("lets through what it can say, and refuses what would reach a program as a question mark")
    void refuses() {
        assertThatCode(() -> ASCII.check(given("Skarholm", "7"))).doesNotThrowAnyException();
        assertThatCode(() -> LATIN.check(given("Skarhølm", "7"))).doesNotThrowAnyException();
        assertThatCode(() -> ALL.check(given("Skarhølm", "港 \uD83D\uDEA2"))).doesNotThrowAnyException();
        assertThatThrownBy(() -> ASCII.check(given("Skarhølm", "7")))
                .hasMessage("the character U+00F8 cannot be given to a program in the character set US-ASCII"
                        + " that the service runs in; LC_ALL=C.UTF-8 in its environment would be right");
        assertThatThrownBy(() -> LATIN.check(given("Skarhølm", "港"))).hasMessageContaining("U+6E2F");
        // half of a character is none in any set, and no setting of the host helps
        assertThatThrownBy(() -> ALL.check(given("\uD83D", "7")))
                .hasMessage("the character U+D83D cannot be given to a program in the character set UTF-8");
    }

    @Test
    @DisplayName("is complained of where it cannot say everything")
    void complains() {
        assertThat(ALL.complaint()).isEmpty();
        assertThat(LATIN.complaint())
                .hasValueSatisfying(text -> assertThat(text).contains("ISO-8859-1"));
    }
}
