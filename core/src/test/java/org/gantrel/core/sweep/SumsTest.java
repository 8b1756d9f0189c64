package org.gantrel.core.sweep;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.IntStream;
import org.gantrel.core.expression.ValueKind;
import org.gantrel.core.parameter.ParameterType;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("What the rows of a sweep give together")
class SumsTest {

    private static final Map<String, ParameterType> DECLARED =
            Map.of("total", ParameterType.NUMBER, "code", ParameterType.TEXT);
    private static final List<String> NAMES = List.of("total", "code", "tickets", "share");
    private static final List<String> VALUES = List.of("0", "5", "-3", "12.75", "1.0E3", "x", "007", "", "1e999");

    @Test
    @DisplayName("is the sum of each number that is one in every row, in whatever portions it is added up")
    void isTheSum() {
        var random = new Random(20);
        for (int round = 0; round < 2_000; round++) {
            List<String> values = round % 2 == 0 ? VALUES : VALUES.subList(0, 5);
            var rows = new ArrayList<Map<String, String>>();
            for (int i = random.nextInt(6); i > 0; i--) {
                var row = new HashMap<String, String>();
                NAMES.stream()
                        .filter(name -> random.nextInt(3) > 0)
                        .forEach(name -> row.put(name, values.get(random.nextInt(values.size()))));
                rows.add(row);
            }
            int cut = random.nextInt(rows.size() + 1);
            Map<String, String> sums = Sums.together(sums(rows.subList(0, cut)), sums(rows.subList(cut, rows.size())));
            assertThat(Sums.results(sums, DECLARED, Map.of("rows", String.valueOf(rows.size()))))
                    .as("%s", rows)
                    .isEqualTo(naive(rows));
        }
    }

    private static Map<String, String> sums(List<Map<String, String>> rows) {
        Map<String, String> sums = Map.of();
        for (Map<String, String> row : rows) {
            sums = Sums.with(sums, row, DECLARED);
        }
        return sums;
    }

    private static Map<String, String> naive(List<Map<String, String>> rows) {
        var all = new HashMap<String, String>();
        all.put("rows", String.valueOf(rows.size()));
        for (String name : NAMES) {
            List<String> given = rows.stream()
                    .filter(row -> row.containsKey(name))
                    .map(row -> row.get(name))
                    .toList();
            boolean numbers = given.stream().allMatch(VALUES.subList(0, 5)::contains);
            if (numbers && !name.equals("code") && (name.equals("total") || !given.isEmpty())) {
                all.put(
                        name,
                        given.stream()
                                .map(BigDecimal::new)
                                .reduce(BigDecimal.ZERO, BigDecimal::add)
                                .toPlainString());
            }
        }
        return all;
    }

    @Test
    @DisplayName("costs no more for rows that give all sorts of things, and the sweep's own counts go first")
    void isBounded() {
        Map<String, String> sums = Map.of();
        for (int i = 0; i < 1_000; i++) {
            sums = Sums.with(
                    sums, Map.of("n" + i, "1", "failed", "7", "\"".repeat(90), "1", "x".repeat(500), "1"), Map.of());
        }
        assertThat(sums).hasSize(Sums.MOST);
        assertThat(Sums.results(sums, Map.of(), Map.of("failed", "2")))
                .hasSize(Sums.MOST)
                .containsEntry("failed", "2");
        assertThat(sums.keySet()).allMatch(name -> name.matches("n\\d+|failed"));
        Map<String, String> others =
                IntStream.range(0, 80).collect(HashMap::new, (all, i) -> all.put("other" + i, "1"), HashMap::putAll);
        assertThat(Sums.together(sums, others)).hasSize(Sums.MOST);
        assertThat(Sums.kinds(DECLARED))
                .containsOnlyKeys("rows", "succeeded", "failed", "total")
                .containsValue(ValueKind.NUMBER);
    }
}
