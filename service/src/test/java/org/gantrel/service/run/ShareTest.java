package org.gantrel.service.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Map;
import org.gantrel.service.team.Caller;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A share of what goes on at once")
class ShareTest {

    private static final Caller MARA = new Caller("mara", "Mara", false, Map.of());
    private static final Caller IVO = new Caller("ivo", "Ivo", false, Map.of());

    @Test
    @DisplayName("leaves room for others, is bounded over all, and is free again afterwards, after a fault too")
    void leavesRoom() {
        var share = new Share("logs are read", 2, 1);
        String done = share.within(MARA, () -> {
            assertThatThrownBy(() -> share.within(MARA, () -> "more")).hasMessageContaining("already 1 logs are read");
            return share.within(IVO, () -> {
                Caller third = new Caller("lea", "Lea", false, Map.of());
                assertThatThrownBy(() -> share.within(third, () -> "more"))
                        .hasMessageContaining("already 2 logs are read");
                return "both";
            });
        });
        assertThat(done).isEqualTo("both");
        assertThatThrownBy(() -> share.within(MARA, () -> {
                    throw new IllegalStateException("broken");
                }))
                .hasMessage("broken");
        assertThat(share.within(MARA, () -> "again")).isEqualTo("again");
    }
}
