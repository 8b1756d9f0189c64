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
    @DisplayName("are refused where what they repeat would fill the memory, before it does")
    void areSmall() {
        for (String large : new String[] {
            "(((a{1000}){1000}){1000}){1000}",
            "(?:[a-z]{900,}|\\d{1,999}){7}",
            "((\\Qa(b\\E){90}){90}",
            "\\pL{1000}{1000}"
        }) {
            assertThatThrownBy(() -> SafePattern.of(large)).as(large).hasMessageContaining("is too large");
        }
        assertThat(SafePattern.of("[A-Z]{2}\\d{6}(-[0-9a-f]{1,900})?").matches("LF202611-0a"))
                .isTrue();
        assertThat(SafePattern.kept("((a{100}){100}){100}").matches("a")).isFalse();
    }

    @Test
    @DisplayName("are about as large as is said before they are compiled, and never larger")
    void areMeasured() {
        var random = new Random(8);
        String[] pieces = {
            "a",
            "b",
            "(",
            "(?:",
            ")",
            "|",
            "*",
            "+?",
            "?",
            "[ab(]",
            "[^]{3}]",
            "[[:alpha:])]",
            ".",
            "\\(",
            "\\pL",
            "\\x{10FF}",
            "{3}",
            "{2,}",
            "{1,4}",
            "{0,3}",
            "^",
            "\\d",
            "\\Q(a{9}\\E",
            "(?i)",
            "{x}",
            "]",
            "é",
            "[\\]]",
            "(?P<n>"
        };
        int compared = 0;
        for (int i = 0; i < 60_000; i++) {
            var pattern = new StringBuilder();
            for (int piece = random.nextInt(10); piece >= 0; piece--) {
                pattern.append(pieces[random.nextInt(pieces.length)]);
            }
            int real;
            try {
                real = com.google.re2j.Pattern.compile(pattern.toString()).programSize();
            } catch (com.google.re2j.PatternSyntaxException e) {
                continue;
            }
            compared++;
            assertThat(PatternSize.of(pattern.toString()))
                    .as(pattern.toString())
                    .isGreaterThanOrEqualTo(real);
        }
        assertThat(compared).isGreaterThan(10_000);
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
