package org.gantrel.client.when;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.zone.ZoneRulesProvider;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import org.gantrel.client.Wrong;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.json.JsonMapper;

/** Explains a schedule and lists its next times; it needs no service. */
@Command(
        name = "when",
        description = "Explains a way of saying when, and lists its next times.",
        footer = {
            "",
            "Examples:",
            "  gantrel when \"every weekday at 06:45\" --zone Europe/Oslo",
            "  gantrel when \"45 6 * * 1-5\" --zone Europe/Oslo --from 2026-03-20T00:00Z --count 5 --format json"
        })
public final class WhenCommand implements Callable<Integer> {

    private static final DateTimeFormatter LOCAL = DateTimeFormatter.ofPattern("EEE yyyy-MM-dd HH:mm", Locale.ENGLISH);

    @Parameters(paramLabel = "EXPRESSION", description = "A phrase such as 'every day at 02:30', or a cron expression.")
    private String expression;

    @Option(
            names = "--zone",
            paramLabel = "ZONE",
            description = "The zone whose local times are meant (this machine's).")
    private String zone = ZoneId.systemDefault().getId();

    @Option(names = "--from", paramLabel = "INSTANT", description = "Times after this instant (now).")
    private String from;

    @Option(names = "--count", paramLabel = "N", defaultValue = "5", description = "How many times, up to 1000 (5).")
    private int count;

    @Option(
            names = "--format",
            paramLabel = "FORMAT",
            defaultValue = "table",
            description = "table, json or csv (table).")
    private Format format;

    @Option(
            names = {"-h", "--help"},
            usageHelp = true,
            description = "Shows this help.")
    private boolean help;

    @Override
    public Integer call() {
        ZoneId read = readZone();
        Instant after = readFrom();
        if (count < 1 || count > 1000) {
            throw new Wrong("--count " + count + ": 1 to 1000 would be right");
        }
        Timetable timetable;
        try {
            timetable = When.parse(expression);
        } catch (WhenException e) {
            throw new Wrong("'" + expression + "', " + e.sentence());
        }
        print(timetable, read, timetable.next(after, read, count));
        return 0;
    }

    private void print(Timetable timetable, ZoneId read, List<Instant> times) {
        var printer = new Printer();
        switch (format) {
            case json -> {
                Map<String, Object> answer = new LinkedHashMap<>();
                answer.put("expression", expression);
                answer.put("kind", timetable.kind().word());
                answer.put("phrase", timetable.phrase());
                answer.put("zone", zone);
                answer.put("occurrences", times.stream().map(Instant::toString).toList());
                printer.json(new JsonMapper().valueToTree(answer));
            }
            case csv -> times.forEach(time -> printer.line(time.toString()));
            case table -> {
                printer.line(printer.strong(timetable.phrase()) + ", " + zone);
                ZoneId here = ZoneId.systemDefault();
                times.forEach(time -> printer.line("  " + LOCAL.format(time.atZone(read)) + "   "
                        + LOCAL.format(time.atZone(ZoneOffset.UTC)) + " UTC   yours "
                        + LOCAL.format(time.atZone(here))));
                if (times.isEmpty()) {
                    Printer.say("it never comes round");
                }
            }
        }
    }

    private ZoneId readZone() {
        try {
            return ZoneId.of(zone);
        } catch (DateTimeException e) {
            throw new Wrong("--zone: '" + zone + "' is no time zone"
                    + Nearest.hint(zone, ZoneRulesProvider.getAvailableZoneIds()));
        }
    }

    private Instant readFrom() {
        if (from == null) {
            return Instant.now();
        }
        try {
            return DateTimeFormatter.ISO_DATE_TIME.parse(from, Instant::from);
        } catch (DateTimeException e) {
            throw new Wrong("--from: '" + from + "': an instant such as 2026-03-20T00:00Z would be right");
        }
    }
}
