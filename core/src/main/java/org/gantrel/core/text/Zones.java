package org.gantrel.core.text;

import java.time.DateTimeException;
import java.time.ZoneId;
import java.time.zone.ZoneRulesProvider;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;
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
            throw new InvalidException("zone", "'" + name + "' is no time zone" + hint(name));
        }
    }

    /** A sentence end such as {@code "; did you mean 'Europe/Oslo'?"}; a city alone is found too. Where none is near it says what one looks like. */
    public static String hint(String name) {
        return near(name).map(zone -> "; did you mean '" + zone + "'?").orElse("; Europe/Oslo or UTC would be one");
    }

    private static Optional<String> near(String name) {
        String wanted = name.strip().toLowerCase(Locale.ROOT).replace(' ', '_');
        return ZoneRulesProvider.getAvailableZoneIds().stream()
                .filter(zone -> zone.indexOf('/') > 0 && city(zone).equals(city(wanted)))
                .min(Comparator.comparingInt((String zone) -> common(zone.toLowerCase(Locale.ROOT), wanted))
                        .thenComparing(zone -> zone.startsWith("Etc/"))
                        .thenComparing(Comparator.naturalOrder()))
                .or(() -> Nearest.to(name, ZoneRulesProvider.getAvailableZoneIds()));
    }

    private static String city(String zone) {
        return zone.substring(zone.lastIndexOf('/') + 1).toLowerCase(Locale.ROOT);
    }

    /** The more letters two names begin with alike, the smaller. */
    private static int common(String one, String other) {
        int same = 0;
        while (same < Math.min(one.length(), other.length()) && one.charAt(same) == other.charAt(same)) {
            same++;
        }
        return -same;
    }
}
