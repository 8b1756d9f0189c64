package org.gantrel.service.roster;

import java.util.LinkedHashMap;
import java.util.Map;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/**
 * Ids of rows: that of the table's owner and the row's place in one number, so that the rows of an owner lie together in
 * their order and can be written in batches.
 */
public final class RowIds {

    private static final int BITS = 20;
    private static final JsonMapper JSON = JsonMapper.shared();

    private RowIds() {}

    /** @param place from 1 to {@link org.gantrel.core.roster.Roster#MOST_ROWS} */
    public static long id(long owner, int place) {
        return (owner << BITS) | place;
    }

    public static int place(long id) {
        return (int) (id & ((1 << BITS) - 1));
    }

    /** The values of a row as they are kept. */
    public static String text(Map<String, String> values) {
        return JSON.writeValueAsString(values);
    }

    public static Map<String, String> values(String text) {
        return JSON.readValue(text, new TypeReference<LinkedHashMap<String, String>>() {});
    }
}
