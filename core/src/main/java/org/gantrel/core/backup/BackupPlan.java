package org.gantrel.core.backup;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * When the service's own data is backed up, and which backups go.
 *
 * @param at the time of day; where a day has no such time, as much later as its clocks are put forward
 * @param keep how many are kept
 */
public record BackupPlan(LocalTime at, ZoneId zone, int keep) {

    /** One that failed is tried again after this. */
    static final Duration AGAIN = Duration.ofHours(1);

    private static final DateTimeFormatter STAMP =
            DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmmss'Z'").withZone(ZoneOffset.UTC);
    private static final Pattern NAME = Pattern.compile("gantrel-(\\d{8}T\\d{6}Z)\\.zip");

    /**
     * When the next is to be made.
     *
     * @param made when the latest was made; nothing where there is none, and then it is to be made at once
     * @param failed when one was tried last in vain, after the latest that was made
     */
    public Instant next(Optional<Instant> made, Optional<Instant> failed, Instant now) {
        Instant due = made.map(this::after).orElse(now);
        return failed.map(tried -> tried.plus(AGAIN)).filter(due::isBefore).orElse(due);
    }

    private Instant after(Instant made) {
        ZonedDateTime day = made.atZone(zone).with(at);
        return (day.toInstant().isAfter(made)
                        ? day
                        : day.toLocalDate().plusDays(1).atTime(at).atZone(zone))
                .toInstant();
    }

    /** The name of the file that one made at an instant stands in. */
    public static String name(Instant made) {
        return "gantrel-" + STAMP.format(made) + ".zip";
    }

    /** When a backup was made, by the name of its file; nothing for other files. */
    public static Optional<Instant> madeAt(String name) {
        Matcher parts = NAME.matcher(name);
        try {
            return parts.matches()
                    ? Optional.of(ZonedDateTime.parse(parts.group(1), STAMP).toInstant())
                    : Optional.empty();
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    /**
     * Those of some files that are to go: backups beyond the newest that are kept. Other files are nobody's business, and
     * those of a time that is to come stay, and stand for none.
     */
    public List<String> goes(Collection<String> names, Instant now) {
        return names.stream()
                .filter(name -> madeAt(name).filter(at -> !at.isAfter(now)).isPresent())
                .sorted(Comparator.comparing((String name) -> madeAt(name).get())
                        .reversed())
                .skip(keep)
                .toList();
    }
}
