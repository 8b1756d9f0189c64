package org.gantrel.core.run;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.parameter.ParameterType;

/**
 * The results that a job gave, beside those that it declares.
 *
 * @param values those that are as declared, and those that are not declared at all
 * @param complaints what is missing or of another type, in words that follow "it"
 */
public record Given(Map<String, String> values, List<String> complaints) {

    /** Looks at results. A wrong one is left out, so that nobody takes it for what it is not. */
    public static Given of(Map<String, ParameterType> declared, Map<String, String> results) {
        var values = new LinkedHashMap<>(results);
        var complaints = new ArrayList<String>();
        declared.forEach((name, type) -> {
            String text = results.get(name);
            if (text == null) {
                complaints.add("gave no " + name);
            } else if (!type.takes(text)) {
                values.remove(name);
                String shown = text.length() > 40 ? text.substring(0, 40) + "..." : text;
                complaints.add("gave '" + shown + "' for " + name + ", which is not " + type.allowed);
            }
        });
        return new Given(values, complaints);
    }
}
