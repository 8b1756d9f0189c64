package org.gantrel.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The locale that jobs find")
class LocaleBeforeTest {

    private static Map<String, String> of(Map<String, String> environment) {
        var all = new HashMap<>(environment);
        LocaleBefore.in(all);
        return all;
    }

    @Test
    @DisplayName("is what stood there before the service chose one for itself")
    void isAsBefore() {
        assertThat(of(Map.of("LANG", "C", "LC_ALL", "C.UTF-8"))).isEqualTo(Map.of("LANG", "C", "LC_ALL", "C.UTF-8"));
        assertThat(of(Map.of("LANG", "C", "LC_ALL", "C.UTF-8", "GANTREL_LC_ALL", "")))
                .isEqualTo(Map.of("LANG", "C"));
        assertThat(of(Map.of("LC_ALL", "C.UTF-8", "GANTREL_LC_ALL", "POSIX"))).isEqualTo(Map.of("LC_ALL", "POSIX"));
    }
}
