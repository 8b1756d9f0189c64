package org.gantrel.core.sweep;

import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.parameter.Parameters;

/**
 * Which values all rows of a sweep have in common, and so what is waited for once. Gates that speak of such values alone,
 * or of none, are those of the sweep; the others are those of each row.
 *
 * @param values what is known before there are rows
 * @param open the parameters that rows give, or may give
 */
public record SharedValues(Map<String, String> values, Set<String> open) {

    public SharedValues {
        values = Map.copyOf(values);
        open = Set.copyOf(open);
    }

    /** @param columns what the rows are known to give; nothing where that is seen only when they are drawn */
    public static SharedValues of(
            Parameters parameters, Map<String, String> given, Optional<List<String>> columns, PlannedTime planned) {
        var open = new HashSet<>(columns.orElseGet(parameters::names));
        if (columns.isEmpty()) {
            open.removeAll(given.keySet());
        }
        Map<String, String> known = parameters.known(given, open, planned);
        open.addAll(parameters.names());
        open.removeAll(known.keySet());
        return new SharedValues(known, open);
    }

    /** Those gates that the sweep waits for. */
    public Gates ofSweep(Gates all) {
        return all.only(gate -> !gate.speaksOf(open));
    }

    /** Those that a row waits for. @param row all its values */
    public Gates ofRow(Gates all, Map<String, String> row) {
        var own = new HashSet<>(open);
        values.forEach((name, value) -> {
            if (!value.equals(row.get(name))) {
                own.add(name);
            }
        });
        return all.only(gate -> gate.speaksOf(own));
    }
}
