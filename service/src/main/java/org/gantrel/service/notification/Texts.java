package org.gantrel.service.notification;

import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.job.Job;
import org.gantrel.core.notification.FaultCourse.Why;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.notification.Wording;
import org.gantrel.core.text.Words;
import org.gantrel.service.fault.FaultRecord;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunLogs;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.telling.Mustaches;
import org.gantrel.service.telling.Wordings;
import org.springframework.stereotype.Component;

/** Says in words what has happened: a subject, and what a mail shows as text and as HTML. Secrets are masked where they come from. */
@Component
class Texts {

    private static final int LINES_OF_LOG = 20;
    private static final int LONGEST_SENTENCE = 280;
    private static final String TEXT = Mustaches.resource("mail.txt");
    private static final String HTML = Mustaches.resource("mail.html");
    private static final String WORDED = Mustaches.resource("worded.html");
    private static final DateTimeFormatter TIME =
            DateTimeFormatter.ofPattern("EEE d MMM uuuu HH:mm:ss", Locale.ENGLISH);

    /**
     * What is said.
     *
     * @param values the same as templates see it
     */
    record Said(String subject, String text, String html, Map<String, Object> values) {}

    private final RunLogs logs;
    private final Settings settings;

    Texts(RunLogs logs, Settings settings) {
        this.logs = logs;
        this.settings = settings;
    }

    /** Builds what is said, line by line. */
    private final class Sheet {
        private final Map<String, Object> values = new LinkedHashMap<>();
        private final List<Map<String, Object>> facts = new ArrayList<>();

        private Sheet(String sentence, String colour) {
            values.put("sentence", line(sentence, LONGEST_SENTENCE));
            values.put("colour", colour);
            values.put("facts", facts);
        }

        private Sheet fact(String name, String value) {
            if (!value.isEmpty()) {
                String label = String.format(Locale.ROOT, "%-16s", name + ":");
                facts.add(Map.of("name", name, "label", label, "value", line(value, 2_000)));
            }
            return this;
        }

        private Sheet lines(List<String> lines) {
            values.put("hasLines", !lines.isEmpty());
            values.put("lines", lines);
            return this;
        }

        private Sheet link(String path, String text) {
            values.put("link", settings.url() + path);
            values.put("linkText", text);
            return this;
        }

        private Sheet because(String why) {
            values.put("why", why);
            return this;
        }

        private Said said(String subject) {
            values.putIfAbsent("hasLines", false);
            values.putIfAbsent("lines", List.of());
            values.putIfAbsent("items", List.of());
            values.putIfAbsent("parts", List.of());
            values.put("hasItems", !((List<?>) values.get("items")).isEmpty());
            values.putIfAbsent("link", "");
            values.putIfAbsent("why", "");
            values.put("subject", line(subject, 200));
            return new Said(
                    line(subject, 200),
                    Mustaches.plain(TEXT, values).strip().replaceAll("\n{3,}", "\n\n") + "\n",
                    Mustaches.html(HTML, values),
                    values);
        }
    }

    /** A subject is a line, and so is a fact, whatever a value or a message holds: no header can be slipped in. */
    private static String line(String text, int most) {
        String line = text.replaceAll("\\p{Cntrl}+", " ").strip();
        return line.length() <= most ? line : line.substring(0, most - 3) + "...";
    }

    /**
     * A fault, or that it is over.
     *
     * @param why which of the messages about it this is
     * @param whole whether whoever reads it may see the run; otherwise they learn that something is wrong, and no more
     * @param because why they are told, in one sentence
     */
    Said fault(FaultRecord fault, Run run, Job job, Why why, boolean whole, String because) {
        String name = run.jobName();
        String ended = run.state().word().replace('-', ' ');
        String since = time(fault.openedAt(), run);
        String times = fault.badEnds() > 1 ? ", " + Words.count(fault.badEnds(), "time") + " in a row" : "";
        String subject =
                switch (why) {
                    case FIRST -> name + " " + ended + times;
                    case REMINDER -> name + " still fails" + times;
                    case FURTHER -> name + " still fails and nobody sees to it" + times;
                    case RECOVERED -> name + " works again";
                };
        if (!whole) {
            return new Sheet(subject, colour(why))
                    .fact("Since", since)
                    .link("/faults/" + fault.id(), "Look at it")
                    .because(because)
                    .said(subject);
        }
        String sentence =
                switch (why) {
                    case FIRST, REMINDER, FURTHER -> subject + ": " + run.message();
                    case RECOVERED ->
                        name + " works again: run " + run.number() + " " + ended + " after "
                                + Words.count(fault.badEnds(), "bad end") + " since " + since;
                };
        Sheet sheet = facts(new Sheet(sentence, colour(why)), run, job)
                .fact("Since", why == Why.FIRST && fault.badEnds() == 1 ? "" : since)
                .fact("Seen to by", fault.seenBy());
        if (why != Why.RECOVERED) {
            sheet.lines(logs.lastLines(run, LINES_OF_LOG));
        }
        return sheet.link("/runs/" + run.number(), "Look at it")
                .because(because)
                .said(subject + " (run " + run.number() + ")");
    }

    /** Something that happened to a run and is no fault. @param detail more about it, such as the deadline that was missed */
    Said event(Happening what, Run run, Job job, String detail, boolean whole, String because) {
        String subject = run.jobName() + " "
                + switch (what) {
                    case LATE -> "is late";
                    case LONG -> "takes unusually long";
                    case WAITS_LONG -> "waits for long";
                    case WARNED -> "ended with warnings";
                    case APPROVAL -> "asks for an approval";
                    default -> what.word().replace('-', ' ');
                };
        Sheet sheet = new Sheet(whole && !detail.isEmpty() ? subject + ": " + detail : subject, "#c9821c");
        if (whole) {
            facts(sheet, run, job);
        }
        return sheet.link("/runs/" + run.number(), "Look at it")
                .because(because)
                .said(subject + " (run " + run.number() + ")");
    }

    /** Something that is about no run. @param facts more about it, in order; @param link where it can be looked at */
    Said notice(String sentence, Map<String, String> facts, String link, boolean good, String because) {
        Sheet sheet = new Sheet(sentence, good ? "#1d7a6c" : "#c9821c");
        facts.forEach(sheet::fact);
        return sheet.link(link, "Look at it").because(because).said(sentence);
    }

    /**
     * The same in the words of a team. It sees what the usual words say, and of a run what whoever reads it may see.
     *
     * @param run the run, where its reader may see it
     */
    Said worded(Said said, Wording wording, Optional<Run> run) {
        Map<String, Object> values =
                Wordings.values(said.values(), run, run.map(Run::jobName).orElse(""));
        String subject = line(Mustaches.plain(wording.subject(), values), 200);
        String text = Mustaches.plain(wording.text(), values).strip() + "\n";
        Map<String, Object> sheet = new LinkedHashMap<>(said.values());
        sheet.putAll(Map.of("subject", subject, "text", text));
        return new Said(subject, text, Mustaches.html(WORDED, sheet), said.values());
    }

    private static Sheet facts(Sheet sheet, Run run, Job job) {
        sheet.fact("What it is for", job.about())
                .fact("Planned for", time(run.plannedAt(), run))
                .fact("Started by", (run.cause().word() + " " + run.causeRef()).strip());
        run.parameters().forEach((name, value) -> sheet.fact("With " + name, value));
        run.results().forEach((name, value) -> sheet.fact("Gave " + name, value));
        return sheet.fact("Took", run.took().map(Words::duration).orElse(""));
    }

    /** The question of a chain's step. */
    Said question(Run run, String step, String asks, String of, Optional<Instant> until) {
        String subject = run.jobName() + " asks: " + (asks.isEmpty() ? "go on?" : asks) + " (run " + run.number() + ")";
        return new Sheet(asks.isEmpty() ? "Is it to go on?" : asks, "#c9821c")
                .fact("The chain", run.jobName() + ", step " + step)
                .fact("Asked are", of)
                .fact("Until", until.map(at -> time(at, run)).orElse(""))
                .fact("or by", "gantrel run decide " + run.number() + " " + step + " --approve (or --refuse)")
                .link("/runs/" + run.number(), "Answer it at")
                .said(subject);
    }

    /** Several messages as one. @param items the sentences with their links, and what has become of each by now */
    Said gathered(List<Map<String, Object>> items, String why) {
        Sheet sheet = new Sheet(Words.count(items.size(), "message") + ", " + why, "#c9821c");
        sheet.values.put("items", items);
        String subject =
                items.size() + " messages: " + items.get(0).get("sentence") + " and " + (items.size() - 1) + " more";
        return sheet.said(subject);
    }

    /** A list with a title; it is left out where it is empty. */
    record Part(String title, List<Map<String, Object>> items) {}

    /** How it went for a while. @param facts in order; @param items what was not as it should be @param parts more of it */
    Said digest(
            String sentence,
            Map<String, String> facts,
            List<Map<String, Object>> items,
            List<Part> parts,
            boolean well,
            String because) {
        Sheet sheet = new Sheet(sentence, well ? "#1d7a6c" : "#c43c22");
        facts.forEach(sheet::fact);
        sheet.values.put("items", items);
        sheet.values.put(
                "parts",
                parts.stream()
                        .filter(part -> !part.items().isEmpty())
                        .map(part -> Map.of("title", part.title(), "items", part.items()))
                        .toList());
        return sheet.link("/", "Look at today").because(because).said(sentence);
    }

    /** A message that only tells that messages arrive. */
    Said test(String person) {
        return new Sheet("This is a test: messages of Gantrel arrive here", "#1d7a6c")
                .fact("Asked for by", person)
                .link("/notifications", "Look at it")
                .said("Gantrel: a test of this channel");
    }

    private static String colour(Why why) {
        return why == Why.RECOVERED ? "#1d7a6c" : "#c43c22";
    }

    private static String time(Instant at, Run run) {
        ZoneId zone = run.planned().zone();
        return TIME.format(at.atZone(zone)) + " (" + zone.getId() + ")";
    }
}
