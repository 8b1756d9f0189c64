package org.gantrel.core.action;

import java.time.Duration;
import org.gantrel.core.expression.Bindings;

/**
 * Work that another machine does by itself, and tells of.
 *
 * @param startWithin how long after its planned time its start may be told; a run of which none is, is missed
 */
public record Outside(Duration startWithin) implements Action {

    public static final Duration USUALLY_WITHIN = Duration.ofMinutes(10);

    @Override
    public String kind() {
        return "outside";
    }

    @Override
    public Outside fill(Bindings known) {
        return this;
    }
}
