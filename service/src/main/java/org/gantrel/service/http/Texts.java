package org.gantrel.service.http;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.problem.InvalidException;

/** The values of a body as texts: numbers, dates and yes/no may come as JSON values. */
public final class Texts {

    private Texts() {}

    /**
     * Reads them; null is nothing.
     *
     * @throws InvalidException for a list or an object
     */
    public static Map<String, String> of(Map<String, Object> values) {
        var texts = new LinkedHashMap<String, String>();
        if (values == null) {
            return texts;
        }
        values.forEach((name, value) -> {
            if (value instanceof Map || value instanceof List) {
                throw new InvalidException(name, "a single value is expected, not a list or an object");
            }
            if (value != null) {
                texts.put(name, String.valueOf(value));
            }
        });
        return texts;
    }
}
