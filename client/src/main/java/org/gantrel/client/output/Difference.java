package org.gantrel.client.output;

import com.github.difflib.DiffUtils;
import com.github.difflib.UnifiedDiffUtils;
import java.util.List;

/** What is different between two texts, line by line, as the trade writes it (unified format). */
public final class Difference {

    private static final int LINES_AROUND = 2;

    private Difference() {}

    /** The lines; none where the texts are alike. */
    public static List<String> between(String oneName, String one, String otherName, String other) {
        List<String> before = one.lines().toList();
        return UnifiedDiffUtils.generateUnifiedDiff(
                oneName, otherName, before, DiffUtils.diff(before, other.lines().toList()), LINES_AROUND);
    }
}
