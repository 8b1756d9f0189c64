package org.gantrel.service.http;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Random;
import java.util.stream.LongStream;
import org.gantrel.core.problem.InvalidException;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A list that is sorted")
class OrderTest {

    private record Row(Long id, Integer size) {}

    private static final Order.Columns<Row> COLUMNS =
            new Order.Columns<>(Row::id).with("size", Row::size).with("number", Row::id);

    @Test
    @DisplayName("has each row once over its pages, by size, the newest of equals first, those without a size last")
    void pages() {
        var random = new Random(4);
        for (int round = 0; round < 300; round++) {
            List<Row> rows = new ArrayList<>(LongStream.rangeClosed(1, random.nextInt(40))
                    .mapToObj(id -> new Row(id, random.nextInt(5) == 0 ? null : random.nextInt(6)))
                    .toList());
            Collections.shuffle(rows, random);
            boolean down = random.nextBoolean();
            Order<Row> order = COLUMNS.read(down ? "-size" : "size").orElseThrow();
            List<Long> seen = new ArrayList<>();
            long after = Long.MAX_VALUE;
            int most = 1 + random.nextInt(7);
            for (List<Long> page = order.page(rows, after, most);
                    !page.isEmpty();
                    page = order.page(rows, after, most)) {
                assertThat(page).hasSizeLessThanOrEqualTo(most);
                seen.addAll(page);
                after = page.get(page.size() - 1);
            }
            List<Long> naive = new ArrayList<>();
            for (int i = 0; i <= 6; i++) {
                Integer size = i == 6 ? null : Integer.valueOf(down ? 5 - i : i);
                rows.stream()
                        .filter(row -> Objects.equals(row.size(), size))
                        .map(Row::id)
                        .sorted(Collections.reverseOrder())
                        .forEach(naive::add);
            }
            assertThat(seen).isEqualTo(naive);
        }
    }

    @Test
    @DisplayName("is newest first where nothing is said, and says what it can be sorted by")
    void says() {
        assertThat(COLUMNS.read("")).isEqualTo(Optional.empty());
        assertThatThrownBy(() -> COLUMNS.read("-sice"))
                .isInstanceOf(InvalidException.class)
                .hasMessageContaining("did you mean 'size'")
                .hasMessageContaining("there are number and size");
        Order<Row> order = COLUMNS.read("size").orElseThrow();
        assertThatThrownBy(() -> order.page(List.of(new Row(1L, 1)), 7, 5)).hasMessageContaining("no longer");
    }
}
