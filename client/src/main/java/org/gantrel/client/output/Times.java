package org.gantrel.client.output;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.format.ResolverStyle;
import java.time.temporal.TemporalAccessor;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.client.Wrong;
import org.gantrel.core.text.Words;
import tools.jackson.databind.JsonNode;

/** Times as people read and write them. */
public final class Times {

    /** RFC 3339 and ISO 8601, with what stands at the end left out from the right. */
    private static final DateTimeFormatter FORMS = new DateTimeFormatterBuilder()
            .parseCaseInsensitive()
            .append(DateTimeFormatter.ISO_LOCAL_DATE)
            .optionalStart()
            .appendLiteral('T')
            .append(DateTimeFormatter.ISO_LOCAL_TIME)
            .optionalStart()
            .appendOffsetId()
            .toFormatter(Locale.ROOT)
            .withResolverStyle(ResolverStyle.STRICT);

    private static final DateTimeFormatter LOCAL = DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss z", Locale.ENGLISH);
    private static final DateTimeFormatter ABBREVIATION = DateTimeFormatter.ofPattern("z", Locale.ENGLISH);
    private static final Pattern AGO = Pattern.compile("(\\d{1,5})([smhdw])");

    /** As lists print them: a blank where ISO 8601 has a T, and the zone behind it. */
    private static final Pattern PRINTED =
            Pattern.compile("(\\d{4}-\\d\\d-\\d\\d) +(\\d\\d:\\d\\d(?::\\d\\d)?)(?: +(\\S+))?");

    private static final Pattern BARE = Pattern.compile("\\d{4}-\\d\\d-\\d\\d(T| +)\\d\\d:\\d\\d(:\\d\\d)?");

    private Times() {}

    /** An instant in the reader's zone, which stands behind it; nothing where the field is missing. */
    public static String local(JsonNode row, String field) {
        String text = row.path(field).asString("");
        return text.isEmpty() ? "" : printed(Instant.parse(text), ZoneId.systemDefault());
    }

    /** Whether a text is a local time that says nothing of its zone. */
    public static boolean isLocal(String text) {
        return BARE.matcher(text.strip()).matches();
    }

    /** An instant as a zone has it. */
    public static String in(JsonNode row, String field, String zone) {
        return printed(Instant.parse(row.path(field).asString()), ZoneId.of(zone));
    }

    static String printed(Instant at, ZoneId zone) {
        return LOCAL.format(at.atZone(zone));
    }

    /** A duration in words; nothing where the field is missing. */
    public static String duration(JsonNode row, String field) {
        String text = row.path(field).asString("");
        return text.isEmpty() ? "" : Words.duration(Duration.parse(text));
    }

    /** Reads an instant that is to come, or how long after another it is: {@code 90m}. */
    public static Instant ahead(String text, Instant after) {
        Matcher length = AGO.matcher(text.strip().toLowerCase(Locale.ROOT));
        if (length.matches()) {
            Instant now = Instant.now();
            return after.plus(Duration.between(since(text), now));
        }
        return since(text);
    }

    /** Reads {@code 1d}, {@code 90m}, a date, an instant, a local time of this machine, or one as lists print it. */
    public static Instant since(String text) {
        return since(text, ZoneId.systemDefault());
    }

    static Instant since(String text, ZoneId own) {
        Matcher ago = AGO.matcher(text.strip().toLowerCase(Locale.ROOT));
        if (ago.matches()) {
            long number = Long.parseLong(ago.group(1));
            Duration length =
                    switch (ago.group(2)) {
                        case "s" -> Duration.ofSeconds(number);
                        case "m" -> Duration.ofMinutes(number);
                        case "h" -> Duration.ofHours(number);
                        case "d" -> Duration.ofDays(number);
                        default -> Duration.ofDays(7 * number);
                    };
            return Instant.now().minus(length);
        }
        try {
            Matcher printed = PRINTED.matcher(text.strip());
            if (printed.matches()) {
                LocalDateTime time = LocalDateTime.parse(printed.group(1) + "T" + printed.group(2));
                return printed.group(3) == null ? time.atZone(own).toInstant() : inZone(time, printed.group(3), own);
            }
            TemporalAccessor found = FORMS.parseBest(text.strip(), Instant::from, LocalDateTime::from, LocalDate::from);
            if (found instanceof Instant instant) {
                return instant;
            }
            LocalDateTime local = found instanceof LocalDateTime time ? time : ((LocalDate) found).atStartOfDay();
            return local.atZone(own).toInstant();
        } catch (DateTimeException e) {
            throw new Wrong("'" + text + "': 90m, 12h, 1d, a date such as 2026-11-23, a local time of this machine such"
                    + " as 2026-11-23T06:00, one of a zone such as '2026-11-23 06:00 Europe/Oslo', or an instant such"
                    + " as 2026-11-23T06:00:00Z would be right");
        }
    }

    /** A local time of a zone, which is named or abbreviated as this machine abbreviates its own. */
    private static Instant inZone(LocalDateTime time, String zone, ZoneId own) {
        // where clocks are put back, the abbreviation tells the two apart
        for (ZoneOffset offset : own.getRules().getValidOffsets(time)) {
            if (ABBREVIATION
                    .format(time.atOffset(offset).atZoneSameInstant(own))
                    .equals(zone)) {
                return time.toInstant(offset);
            }
        }
        return time.atZone(ZoneId.of(zone)).toInstant();
    }
}
