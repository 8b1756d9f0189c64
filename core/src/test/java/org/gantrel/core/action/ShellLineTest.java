package org.gantrel.core.action;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.PlannedTime;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A line for a shell")
class ShellLineTest {

    private static final String LETTERS = "ab '\"`$(){};&|<>*?[]~#\\!=-\n\t%é";

    private static Bindings values(String value) {
        return new Bindings(Map.of("v", value), new PlannedTime(Instant.parse("2026-11-26T02:30:00Z"), ZoneOffset.UTC));
    }

    private static String run(String line, String value) throws Exception {
        Command command = new Command(Command.shell(line), "", Map.of()).fill(values(value));
        var builder = new ProcessBuilder(command.arguments()).redirectErrorStream(true);
        builder.environment().putAll(command.environment());
        Process process = builder.start();
        process.getOutputStream().close();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor())
                .as(command.arguments().get(2) + "\n" + said)
                .isZero();
        return said;
    }

    @ParameterizedTest(name = "{0}")
    @DisplayName("takes a value as it is, in whatever quotes it stands, and never as code")
    @ValueSource(
            strings = {
                "printf '<%s>' ${v}",
                "printf '<%s>' \"${v}\"",
                "printf '<%s>' '${v}'",
                "printf '<%s>' \"a\"${v} | sed '1s/<a/</'",
                "x=${v}; printf '<%s>' \"$x\"",
                "printf '<%s>' \"$(printf '%s' ${v}; printf x)\" | sed '$s/x>$/>/'",
                "printf '<%s>' \"$(printf '%s' \"${v}\"; printf x)\" | sed '$s/x>$/>/'",
                "(printf '<%s>' ${v})",
                "case ${v} in *) printf '<%s>' ${v} ;; esac",
                "# ${v} is not looked at\nprintf '<%s>' ${v}",
                "printf '<'; cat <<E | head -c -1\n${v}\nE\nprintf '>'"
            })
    void quotes(String line) throws Exception {
        var random = new Random(line.hashCode());
        for (String value :
                List.of("plain", "two words", "$(id)", "`id`", "'; id; '", "\"; id; \"", "a\\", "-n", "*")) {
            assertThat(run(line, value)).as(value).isEqualTo("<" + value + ">");
        }
        for (int i = 0; i < 12; i++) {
            var value = new StringBuilder("x");
            for (int letter = random.nextInt(12); letter >= 0; letter--) {
                value.append(LETTERS.charAt(random.nextInt(LETTERS.length())));
            }
            value.append("x");
            assertThat(run(line, value.toString())).as(value.toString()).isEqualTo("<" + value + ">");
        }
    }

    @Test
    @DisplayName("keeps what is no value as it is, and is known by its shell, however that is called")
    void keepsTheRest() {
        Command bash = new Command(
                        List.of("/usr/bin/bash", "-e", "-uc", "echo \"$${HOME}\" ${v} $1", "x", "${v}"), "", Map.of())
                .fill(values("a b"));
        assertThat(bash.arguments())
                .containsExactly(
                        "/usr/bin/bash", "-e", "-uc", "echo \"${HOME}\" \"${GANTREL_VALUE_1}\" $1", "x", "a b");
        assertThat(bash.environment()).containsEntry("GANTREL_VALUE_1", "a b");
        assertThat(Command.of(
                                "sh",
                                "-c",
                                "ls ${a} \"${b} $(cat ${c})\" '${d}' `cat ${e}` # ${f}\ncat <<E\n${g}\nE\nx ${a}")
                        .unquoted())
                .as("what pasting would have made several words of")
                .containsExactly("a", "c", "e");
        Command plain = Command.of("./settle.sh", "-c", "${v}").fill(values("a b"));
        assertThat(plain.arguments()).containsExactly("./settle.sh", "-c", "a b");
    }
}
