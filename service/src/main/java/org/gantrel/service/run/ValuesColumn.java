package org.gantrel.service.run;

import jakarta.persistence.AttributeConverter;
import jakarta.persistence.Converter;
import java.util.LinkedHashMap;
import java.util.Map;
import org.hibernate.annotations.Immutable;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Keeps values by name in one column, as JSON, in their order. Values are replaced and never changed in place. */
@Converter
@Immutable
public class ValuesColumn implements AttributeConverter<Map<String, String>, String> {

    private static final JsonMapper JSON = JsonMapper.shared();

    @Override
    public String convertToDatabaseColumn(Map<String, String> values) {
        return values.isEmpty() ? "" : JSON.writeValueAsString(values);
    }

    @Override
    public Map<String, String> convertToEntityAttribute(String column) {
        if (column.isEmpty()) {
            return Map.of();
        }
        return JSON.readValue(column, new TypeReference<LinkedHashMap<String, String>>() {});
    }
}
