package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The runs under way by what they count as")
class BesideTest {

    @Test
    @DisplayName("are those that count together with another, whichever values tell each apart, as they come and go")
    void isAsIfAllWereLookedThrough() {
        var random = new Random(41);
        for (int round = 0; round < 300; round++) {
            var beside = new Beside();
            Map<Long, Crowd> naive = new TreeMap<>();
            for (long run = 1; run <= 60; run++) {
                if (!naive.isEmpty() && random.nextInt(3) == 0) {
                    long gone = new ArrayList<>(naive.keySet()).get(random.nextInt(naive.size()));
                    beside.remove(naive.remove(gone), gone);
                } else {
                    Crowd crowd = crowd(random);
                    naive.put(run, crowd);
                    beside.add(crowd, run);
                }
                Crowd asked = crowd(random);
                List<Long> together = naive.entrySet().stream()
                        .filter(each -> asked.meets(each.getValue()))
                        .map(Map.Entry::getKey)
                        .toList();
                assertThat(beside.of(asked)).containsExactlyInAnyOrderElementsOf(together);
                assertThat(beside.count(asked)).isEqualTo(together.size());
                int most = random.nextInt(1, 4);
                assertThat(beside.waitOf(asked, most).isPresent()).isEqualTo(together.size() >= most);
            }
        }
    }

    private static Crowd crowd(Random random) {
        if (random.nextInt(8) == 0) {
            return Crowd.NONE;
        }
        Map<String, String> values = new HashMap<>();
        for (String name : List.of("day", "route", "ship")) {
            if (random.nextBoolean()) {
                values.put(name, "ab".substring(random.nextInt(2)));
            }
        }
        return new Crowd(random.nextInt(3) == 0 ? "load" : "settle", values);
    }
}
