package org.gantrel.core.text;

import java.time.DateTimeException;
import java.time.ZoneId;
import java.time.zone.ZoneRulesProvider;
import org.gantrel.core.problem.InvalidException;

/** Reads the zones that calls name. */
public final class Zones {

    private Zones() {}

    /**
     * The zone of a name.
     *
     * @throws InvalidException where there is none; it offers the nearest
     */
    public static ZoneId named(String name) {
        try {
            return ZoneId.of(name);
        } catch (DateTimeException e) {
            throw new InvalidException(
                    "zone",
                    "'" + name + "' is no time zone; Europe/Oslo or UTC would be"
                            + Nearest.hint(name, ZoneRulesProvider.getAvailableZoneIds()));
        }
    }
}
