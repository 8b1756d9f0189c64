package org.gantrel.service.roster;

import com.code_intelligence.jazzer.api.FuzzedDataProvider;
import com.code_intelligence.jazzer.junit.FuzzTest;
import java.io.IOException;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.List;
import org.gantrel.core.problem.Problem;
import org.junit.jupiter.api.DisplayName;

@DisplayName("The reader of CSV, given anything,")
class CsvFuzzTest {

    @FuzzTest(maxDuration = "1m")
    @DisplayName("reads rows, or says what is wrong")
    void rows(FuzzedDataProvider data) throws IOException {
        var problems = new ArrayList<Problem>();
        var columns = data.consumeBoolean() ? List.of("route", "week") : List.<String>of();
        CsvRows.read(new StringReader(data.consumeRemainingAsString()), columns, problems, row -> {
            if (row.isEmpty()) {
                throw new AssertionError("a row of nothing");
            }
        });
        if (problems.stream().anyMatch(problem -> problem.message().isBlank())) {
            throw new AssertionError("nothing was said");
        }
    }
}
