package org.gantrel.core.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.FileSystems;
import java.nio.file.Path;
import java.nio.file.PathMatcher;
import java.util.Random;
import java.util.regex.PatternSyntaxException;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Patterns that somebody wrote")
class SafePatternTest {

    private static final String HARD = "a".repeat(40) + "!";

    @Test
    @DisplayName("take time that grows with the text only")
    void areLinear() {
        assertThat(SafePattern.of("(a+)+$").isIn(HARD)).isFalse();
        assertThat(SafePattern.of("(a|aa)*b").matches("a".repeat(100_000))).isFalse();
        assertThat(Glob.of("*a".repeat(60) + "b").matches("a".repeat(5_000))).isFalse();
    }

    @Test
    @DisplayName("are refused with the reason where they could take for ever, and old ones stop at a budget")
    void haveNoLookArounds() {
        assertThatThrownBy(() -> SafePattern.of("(?=a)b")).hasMessageContaining("look-arounds");
        assertThatThrownBy(() -> SafePattern.of("(a)\\1")).hasMessageContaining("back references");
        assertThatThrownBy(() -> SafePattern.of("(a")).hasMessageContaining("is no regular expression");
        assertThatThrownBy(() -> SafePattern.of("(".repeat(30) + ")".repeat(30)))
                .hasMessageContaining("nested more than 24 deep");
        assertThat(SafePattern.kept("(a)\\1").matches("aa")).isTrue();
        assertThatThrownBy(() -> SafePattern.kept("(a|aa)+\\1b").isIn(HARD))
                .isInstanceOf(SafePattern.TooMuch.class)
                .hasMessage("a line of 41 characters is too much for the pattern '(a|aa)+\\1b'");
    }

    @Test
    @DisplayName("for names of files mean what globs of the platform mean")
    void globs() {
        var random = new Random(7);
        String[] pieces = {"a", "b", "/", "*", "**", "?", "[ab]", "[!a]", "{a,b}", "{a,bb*}", ".", "\\*", "-", "[a-c]"};
        int compared = 0;
        for (int i = 0; i < 20_000; i++) {
            var glob = new StringBuilder();
            for (int piece = random.nextInt(6); piece >= 0; piece--) {
                glob.append(pieces[random.nextInt(pieces.length)]);
            }
            var path = new StringBuilder();
            for (int letter = random.nextInt(6); letter >= 0; letter--) {
                path.append("ab/c.*-".charAt(random.nextInt(7)));
            }
            Path file = Path.of(path.toString());
            if (file.toString().isEmpty()) {
                continue;
            }
            PathMatcher naive;
            try {
                naive = FileSystems.getDefault().getPathMatcher("glob:" + glob);
            } catch (PatternSyntaxException e) {
                continue;
            }
            compared++;
            assertThat(Glob.of(glob.toString()).matches(file.toString()))
                    .as(glob + " on " + file)
                    .isEqualTo(naive.matches(file));
        }
        assertThat(compared).isGreaterThan(15_000);
    }

    @Test
    @DisplayName("of names that are none say what is wrong")
    void badGlobs() {
        for (String bad : new String[] {"a[", "{a", "{a{b}}", "[!]", "\\"}) {
            assertThatThrownBy(() -> Glob.of(bad)).as(bad).hasMessageContaining("is no path or glob");
        }
    }
}
