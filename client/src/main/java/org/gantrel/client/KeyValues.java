package org.gantrel.client;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The values that options of the form KEY=VALUE give. */
public final class KeyValues {

    private KeyValues() {}

    /** Takes them apart. @throws Wrong for one that is none */
    public static Map<String, String> of(List<String> values) {
        var parameters = new LinkedHashMap<String, String>();
        for (String value : values) {
            int equals = value.indexOf('=');
            if (equals < 1) {
                throw new Wrong("-p " + value + ": KEY=VALUE would be right, such as -p route=skarholm");
            }
            parameters.put(value.substring(0, equals), value.substring(equals + 1));
        }
        return parameters;
    }
}
