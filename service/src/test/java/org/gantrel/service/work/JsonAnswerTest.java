package org.gantrel.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("An answer in JSON")
class JsonAnswerTest {

    private static final JsonMapper JSON = JsonMapper.shared();
    private static final String[] NAMES = {"a", "b", "a/b", "~", "0", "1", ""};

    private static String made(Random dice, int depth) {
        return switch (depth > 3 ? dice.nextInt(4) : dice.nextInt(6)) {
            case 0 -> String.valueOf(dice.nextInt(100));
            case 1 -> dice.nextBoolean() ? "true" : "null";
            case 2 -> "\"x" + dice.nextInt(9) + "\"";
            case 3 -> "1.50";
            case 4 -> {
                var each = new ArrayList<String>();
                List<String> names = new ArrayList<>(List.of(NAMES));
                for (int i = dice.nextInt(4); i > 0; i--) {
                    each.add("\"" + names.remove(dice.nextInt(names.size())) + "\": " + made(dice, depth + 1));
                }
                yield "{" + String.join(", ", each) + "}";
            }
            default -> {
                var each = new ArrayList<String>();
                for (int i = dice.nextInt(4); i > 0; i--) {
                    each.add(made(dice, depth + 1));
                }
                yield "[" + String.join(", ", each) + "]";
            }
        };
    }

    @RepeatedTest(5)
    @DisplayName("has at each place what a tree of all of it has there, and the same rows")
    void hasWhatATreeHas(RepetitionInfo info) {
        var dice = new Random(info.getCurrentRepetition());
        for (int i = 0; i < 2_000; i++) {
            String text = made(dice, 0);
            JsonNode tree = JSON.readTree(text);
            var pointer = new StringBuilder();
            for (int j = dice.nextInt(4); j > 0; j--) {
                pointer.append('/')
                        .append(NAMES[dice.nextInt(NAMES.length)]
                                .replace("~", "~0")
                                .replace("/", "~1"));
            }
            JsonNode wanted = tree.at(pointer.toString());
            assertThat(new JsonAnswer(text).at(pointer.toString()))
                    .as(pointer + " of " + text)
                    .isEqualTo(wanted);
            if (wanted.isArray()) {
                TableLoad.Rows rows = rows(text, pointer.toString());
                for (JsonNode each : wanted) {
                    assertThat(next(rows)).isTrue();
                    for (String name : NAMES) {
                        JsonNode value = each.path(name);
                        assertThat(value(rows, name))
                                .isEqualTo(
                                        value.isMissingNode() || value.isNull()
                                                ? null
                                                : value.isNumber()
                                                        ? value.decimalValue()
                                                        : value.isBoolean()
                                                                ? (Object) value.asBoolean()
                                                                : value.isValueNode()
                                                                        ? value.asString()
                                                                        : value.toString());
                    }
                }
                assertThat(next(rows)).isFalse();
            }
        }
    }

    private static TableLoad.Rows rows(String text, String pointer) {
        return new JsonAnswer(text).rows(pointer);
    }

    private static boolean next(TableLoad.Rows rows) {
        try {
            return rows.next();
        } catch (Exception e) {
            throw new AssertionError(e);
        }
    }

    private static Object value(TableLoad.Rows rows, String name) {
        try {
            return rows.value(name);
        } catch (Exception e) {
            throw new AssertionError(e);
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "{", "[1,", "{} {}", "{\"a\": 1} x", "[1] ]"})
    @DisplayName("is whole, or none")
    void isWhole(String text) {
        assertThatThrownBy(() -> new JsonAnswer(text)).isInstanceOf(JacksonException.class);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource({"{}, object", "1, number", "1.5, number", "true, boolean", "null, null", "'\"x\"', string"})
    @DisplayName("gives rows where there is an array, and says what is there otherwise")
    void saysWhatIsThere(String text, String kind) {
        assertThatThrownBy(() -> rows("{\"a\": " + text + "}", "/a"))
                .hasMessage("a JSON array of objects is expected, and it is " + kind);
        assertThatThrownBy(() -> rows("{\"a\": " + text + "}", "/b"))
                .hasMessage("a JSON array of objects is expected, and it is missing");
    }

    @Test
    @DisplayName("may have millions of values, as long as few of them are wanted at once")
    void isNotHeld() throws Exception {
        String many = "{\"many\": [" + "{},".repeat(1_000_000) + "{\"n\": 7}], \"one\": {\"n\": 8}}";
        assertThat(new JsonAnswer(many).at("/one/n").asInt()).isEqualTo(8);
        assertThat(new JsonAnswer(many).at("/many/1000000/n").asInt()).isEqualTo(7);
        assertThatThrownBy(() -> new JsonAnswer(many).at("/many"))
                .hasMessageContaining("more than 100000 values at '/many'")
                .hasMessageContaining("save-to keeps it");
        TableLoad.Rows rows = rows(many, "/many");
        assertThat(rows.names()).containsExactly("n");
        int count = 0;
        while (rows.next()) {
            count++;
        }
        assertThat(count).isEqualTo(1_000_001);
    }
}
