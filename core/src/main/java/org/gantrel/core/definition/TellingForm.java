package org.gantrel.core.definition;

import java.net.URI;
import java.net.URISyntaxException;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.access.Role;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.expression.Template;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.notification.Channel;
import org.gantrel.core.notification.Digest;
import org.gantrel.core.notification.DutyList;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.notification.NotificationRule;
import org.gantrel.core.notification.NotificationRule.Escalation;
import org.gantrel.core.notification.NotificationRule.Urgency;
import org.gantrel.core.notification.Receiver;
import org.gantrel.core.notification.Telling;
import org.gantrel.core.notification.Wording;
import org.gantrel.core.text.Glob;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;
import org.gantrel.core.yaml.Section;

/** Reads what is defined about telling people. */
final class TellingForm {

    private static final String LONGEST = "P30D";
    private static final int MOST_IN_A_ROW = 1_000;
    private static final int MOST_ATTACHED = 10;
    private static final int TIMES_LOOKED_AT = 50;
    private static final Duration LEAST_APART = Duration.ofHours(1);
    private static final List<String> DAYS = Arrays.stream(DayOfWeek.values())
            .map(day -> day.name().toLowerCase(Locale.ROOT))
            .toList();
    private static final StepFacts.Shapes KNOWN =
            alias -> alias.equals(NotificationRule.RUN) ? Optional.of(StepFacts.Shape.ANY) : Optional.empty();

    private TellingForm() {}

    /** @param kind one of {@link Telling#KINDS} */
    static Telling read(String kind, Section section) {
        return switch (kind) {
            case "notification" -> rule(section);
            case "duty" -> duty(section);
            case "digest" -> digest(section);
            case "wording" -> wording(section);
            default -> channel(section);
        };
    }

    private static NotificationRule rule(Section section) {
        section.knowing(
                "notification",
                "team",
                "about",
                "for",
                "tells",
                "after",
                "when",
                "to",
                "by",
                "urgency",
                "remind",
                "then",
                "worded",
                "attach");
        List<Receiver> to = receivers(section, "to");
        if (to.isEmpty()) {
            section.complain(
                    "to",
                    "is missing: who is told, such as [ owner, { team: revenue, role: manager }, { duty: night-desk } ]");
        }
        String when = section.text("when", 2_000).map(String::strip).orElse("");
        if (!when.isEmpty()) {
            try {
                Template.checkCondition(when, List.of(), KNOWN);
            } catch (ExpressionException e) {
                section.complain(
                        "when", e.getMessage() + "; a condition speaks of the run, such as run.exit_code == 3");
            }
        }
        return new NotificationRule(
                CommonForm.name(section, "notification", "the name of the rule"),
                CommonForm.team(section),
                CommonForm.about(section),
                scope(section),
                tells(section),
                CommonForm.number(section, "after", 1, MOST_IN_A_ROW).orElse(1),
                when,
                to,
                section.has("by") ? CommonForm.name(section, "by", "the channel") : NotificationRule.MAIL,
                urgency(section, "urgency", Urgency.USUAL),
                CommonForm.duration(section, "remind", LONGEST),
                then(section),
                section.has("worded") ? CommonForm.name(section, "worded", "the name of a wording") : "",
                attach(section));
    }

    private static List<String> attach(Section section) {
        List<String> names = section.texts("attach", CommonForm.LONGEST_LINE);
        if (names.size() > MOST_ATTACHED) {
            section.complain("attach", "at most " + MOST_ATTACHED + " names or patterns");
        }
        names.forEach(name -> glob(section, "attach", name));
        if (!names.isEmpty()
                && section.text("by", 100)
                        .filter(by -> !by.equals(NotificationRule.MAIL))
                        .isPresent()) {
            section.complain("attach", "outputs go along with mails alone");
        }
        return names;
    }

    private static void glob(Section section, String key, String name) {
        try {
            Glob.of(name);
        } catch (IllegalArgumentException e) {
            section.complain(key, e.getMessage());
        }
    }

    static Urgency urgency(Section section, String key, Urgency usual) {
        return CommonForm.word(section, key, Urgency.words())
                .map(word -> Urgency.values()[Urgency.words().indexOf(word)])
                .orElse(usual);
    }

    private static JobScope scope(Section section) {
        Optional<Section> own = section.section("for");
        if (own.isEmpty()) {
            return new JobScope(List.of(), List.of(), List.of());
        }
        own.get().knowing("jobs", "labels", "teams");
        List<String> jobs = own.get().texts("jobs", CommonForm.LONGEST_LINE);
        for (String job : jobs) {
            glob(own.get(), "jobs", job);
        }
        return new JobScope(
                jobs, CommonForm.labels(own.get(), "labels"), own.get().texts("teams", 60));
    }

    private static Set<Happening> tells(Section section) {
        if (!section.has("tells")) {
            return Happening.USUAL;
        }
        var tells = new HashSet<Happening>();
        for (String word : section.texts("tells", 40)) {
            Optional<Happening> happening = Happening.of(word);
            happening.ifPresent(tells::add);
            if (happening.isEmpty()) {
                section.complain(
                        "tells",
                        "'" + word + "': " + String.join(", ", Happening.words())
                                + Nearest.hint(word, Happening.words()));
            }
        }
        boolean onlyRecovery = tells.equals(Set.of(Happening.RECOVERED));
        if (tells.isEmpty() || onlyRecovery) {
            section.complain(
                    "tells",
                    onlyRecovery
                            ? "that it works again is told to those who were told that it did not; name failed too"
                            : "names nothing; leave it out for what is usual");
        }
        return tells;
    }

    private static List<Receiver> receivers(Section section, String key) {
        var receivers = new ArrayList<Receiver>();
        for (Section.Entry entry : section.mixed(key, CommonForm.LONGEST_LINE)) {
            entry.text().flatMap(text -> word(section, key, text)).ifPresent(receivers::add);
            entry.section().flatMap(TellingForm::receiver).ifPresent(receivers::add);
        }
        return receivers.stream().distinct().toList();
    }

    private static Optional<Receiver> word(Section section, String key, String text) {
        if (text.equals("owner")) {
            return Optional.of(new Receiver.Owner());
        }
        if (text.equals("starter")) {
            return Optional.of(new Receiver.Starter());
        }
        if (CommonForm.isAddress(text)) {
            return Optional.of(new Receiver.Address(text));
        }
        section.complain(
                key,
                "'" + text + "': owner, starter, an address such as night@lowmarsh.example.org, { person: mara.holt },"
                        + " { team: revenue, role: manager } or { duty: night-desk }");
        return Optional.empty();
    }

    private static Optional<Receiver> receiver(Section own) {
        List<String> kinds = List.of("person", "team", "duty", "address");
        List<String> said = kinds.stream().filter(own::has).toList();
        if (said.size() != 1) {
            own.complain("", "a receiver is one of: " + String.join(", ", kinds));
            return Optional.empty();
        }
        if (said.get(0).equals("team")) {
            own.knowing("team", "role");
            List<String> roles = Role.IN_TEAM.stream().map(Role::word).toList();
            Role role = CommonForm.word(own, "role", roles).flatMap(Role::of).orElse(Role.VIEWER);
            return Optional.of(new Receiver.Team(CommonForm.name(own, "team", "the team"), role));
        }
        own.knowing(said.get(0));
        return switch (said.get(0)) {
            case "person" -> Optional.of(new Receiver.Person(CommonForm.person(own, "person")));
            case "duty" -> Optional.of(new Receiver.Duty(CommonForm.name(own, "duty", "the duty list")));
            default -> {
                String address = own.needed("address", CommonForm.LONGEST_LINE, "a mail address");
                if (!CommonForm.isAddress(address)) {
                    own.complain("address", "'" + address + "' is no mail address");
                }
                yield Optional.of(new Receiver.Address(address));
            }
        };
    }

    /** {@code then: { after: 4 h, to: [ ... ] }}, or several of them. */
    private static List<Escalation> then(Section section) {
        var steps = new ArrayList<Escalation>();
        for (Section.Entry entry : section.mixed("then", CommonForm.LONGEST_LINE)) {
            if (entry.section().isEmpty()) {
                section.complain("then", "after how long, and whom, such as { after: 4 h, to: [ owner ] }");
                continue;
            }
            Section own = entry.section().get();
            own.knowing("after", "to");
            if (!own.has("after")) {
                own.complain("after", "is missing: how long after the first message, such as 4 h");
            }
            List<Receiver> to = receivers(own, "to");
            if (to.isEmpty()) {
                own.complain("to", "is missing: who is told then");
            }
            steps.add(new Escalation(CommonForm.duration(own, "after", LONGEST).orElse(Duration.ofHours(1)), to));
        }
        return steps.stream().sorted(Comparator.comparing(Escalation::after)).toList();
    }

    private static Digest digest(Section section) {
        section.knowing("digest", "team", "about", "for", "chain", "when", "zone", "calendar", "to", "even-if-nothing");
        String chain = section.has("chain") ? CommonForm.name(section, "chain", "the name of a chain") : "";
        // of a chain it may come whenever a run of it has ended
        String when = chain.isEmpty()
                ? section.needed("when", When.LONGEST, "when it comes, such as every weekday at 07:30")
                : section.text("when", When.LONGEST).orElse("");
        if (!chain.isEmpty()
                && section.section("for")
                        .filter(own -> own.has("jobs") || own.has("labels"))
                        .isPresent()) {
            section.complain("for", "a digest of a chain is about its steps; 'jobs' and 'labels' choose nothing there");
        }
        ZoneId zone = CommonForm.zone(section);
        if (!when.isEmpty()) {
            CommonForm.timetable(section, when, zone);
            refuseHaste(section, when, zone);
        }
        List<Receiver> to = receivers(section, "to");
        if (to.isEmpty()) {
            section.complain("to", "is missing: who gets it, such as [ { team: revenue, role: operator } ]");
        }
        for (Receiver receiver : to) {
            if (receiver instanceof Receiver.Owner || receiver instanceof Receiver.Starter) {
                section.complain("to", "a digest is about many jobs, so it has neither one owner nor one starter");
            }
        }
        return new Digest(
                CommonForm.name(section, "digest", "the name of the digest"),
                CommonForm.team(section),
                CommonForm.about(section),
                scope(section),
                chain,
                when,
                zone,
                section.has("calendar") ? CommonForm.name(section, "calendar", "the name of a calendar") : "",
                to,
                section.yes("even-if-nothing", true));
    }

    /** Looked at for some of its times: a digest that comes by the minute is a storm. */
    private static void refuseHaste(Section section, String when, ZoneId zone) {
        try {
            Timetable timetable = When.parse(when);
            Optional<Instant> at = timetable.next(Instant.EPOCH, zone);
            for (int i = 0; i < TIMES_LOOKED_AT && at.isPresent(); i++) {
                Optional<Instant> next = timetable.next(at.get(), zone);
                if (next.isPresent() && Duration.between(at.get(), next.get()).compareTo(LEAST_APART) < 0) {
                    section.complain("when", "'" + when + "': a digest comes once an hour at most");
                    return;
                }
                at = next;
            }
        } catch (WhenException e) {
            // complained of already
            return;
        }
    }

    private static DutyList duty(Section section) {
        section.knowing("duty", "team", "about", "zone", "from", "handover", "turns", "covers");
        Optional<LocalDate> first = CommonForm.date(section, "from");
        if (!section.has("from")) {
            section.complain("from", "is missing: the day on which the first of them has the first turn");
        }
        List<String> turns = section.texts("turns", 60);
        if (turns.isEmpty()) {
            section.complain("turns", "is missing: the people in the order of their turns, a week each");
        }
        for (String person : turns) {
            if (!person.matches(CommonForm.PERSON)) {
                section.complain("turns", "'" + person + "' is no name of a person, such as mara.holt");
            }
        }
        return new DutyList(
                CommonForm.name(section, "duty", "the name of the duty list"),
                CommonForm.team(section),
                CommonForm.about(section),
                CommonForm.zone(section),
                first.orElse(LocalDate.EPOCH),
                handover(section),
                turns,
                section.sections("covers").stream().map(TellingForm::cover).toList());
    }

    /** {@code handover: monday at 08:00}. */
    private static DutyList.Handover handover(Section section) {
        String text = section.text("handover", 40).orElse("monday at 08:00");
        String[] parts = text.toLowerCase(Locale.ROOT).split("\\s+at\\s+");
        int day = DAYS.indexOf(parts[0]);
        if (parts.length == 2 && day >= 0 && parts[1].matches("([01]\\d|2[0-3]):[0-5]\\d")) {
            return new DutyList.Handover(DayOfWeek.of(day + 1), LocalTime.parse(parts[1]));
        }
        section.complain("handover", "'" + text + "': a day of the week and a local time, such as monday at 08:00");
        return new DutyList.Handover(DayOfWeek.MONDAY, LocalTime.of(8, 0));
    }

    private static DutyList.Cover cover(Section own) {
        own.knowing("from", "until", "person");
        Optional<LocalDate> from = CommonForm.date(own, "from");
        Optional<LocalDate> until = CommonForm.date(own, "until");
        for (String key : List.of("from", "until", "person")) {
            if (!own.has(key)) {
                own.complain(key, "is missing");
            }
        }
        if (from.isPresent() && until.isPresent() && !until.get().isAfter(from.get())) {
            own.complain("until", "is not after " + from.get() + "; it ends at the handover time of that day");
        }
        return new DutyList.Cover(
                from.orElse(LocalDate.EPOCH), until.orElse(LocalDate.EPOCH), CommonForm.person(own, "person"));
    }

    private static Wording wording(Section section) {
        section.knowing("wording", "team", "about", "subject", "text");
        String subject =
                section.needed("subject", CommonForm.LONGEST_LINE, "such as '{{job}} {{state}} (run {{run}})'");
        if (subject.contains("\n")) {
            section.complain("subject", "is one line");
        }
        return new Wording(
                CommonForm.name(section, "wording", "the name of the wording"),
                CommonForm.team(section),
                CommonForm.about(section),
                subject,
                section.needed("text", CommonForm.LONGEST_TEXT, "what the message says, such as '{{sentence}}'"));
    }

    private static Channel channel(Section section) {
        section.knowing(
                "channel",
                "team",
                "about",
                "for-teams",
                "call",
                "command",
                "body",
                "headers",
                "acts-as",
                "signed-with");
        List<String> command = section.texts("command", CommonForm.LONGEST_LINE);
        for (String key : List.of("call", "headers", "signed-with")) {
            if (section.has("command") && section.has(key)) {
                section.complain(key, "a channel calls an address or runs a command; of a command it means nothing");
            }
        }
        if (section.has("command") && (command.isEmpty() || !command.get(0).startsWith("/"))) {
            section.complain(
                    "command",
                    "a program by its full path, with its arguments, such as [ /usr/local/bin/page, night ]");
        }
        String call = section.has("command")
                ? ""
                : section.needed(
                        "call",
                        500,
                        "the address that is called, such as https://desk.example.org/hook (or 'command', a program)");
        if (!call.isEmpty() && !isHttp(call)) {
            section.complain("call", "'" + call + "' is no address of HTTP, such as https://desk.example.org/hook");
        }
        String name = CommonForm.name(section, "channel", "the name of the channel");
        if (name.equals(NotificationRule.MAIL)) {
            section.complain("channel", "'mail' is there already: mails by the service's own mail server");
        }
        Map<String, String> headers = new LinkedHashMap<>(section.map("headers", CommonForm.LONGEST_LINE));
        headers.forEach((key, value) -> {
            if (!key.matches("[A-Za-z0-9!#$%&'*+.^_|~-]{1,60}") || value.matches("(?s).*[\\r\\n].*")) {
                section.complain("headers." + key, "is no header of HTTP (RFC 9110, 5.1), or holds a line break");
            }
        });
        String body = section.text("body", CommonForm.LONGEST_TEXT).orElse("");
        return new Channel(
                name,
                CommonForm.team(section),
                CommonForm.about(section),
                section.texts("for-teams", 60),
                call,
                command,
                body.isEmpty() ? Channel.Form.CLOUD_EVENT : Channel.Form.OWN,
                body,
                headers,
                section.has("acts-as") ? CommonForm.name(section, "acts-as", "the name of a credential") : "",
                section.has("signed-with") ? CommonForm.name(section, "signed-with", "the name of a credential") : "");
    }

    private static boolean isHttp(String text) {
        try {
            URI address = new URI(text);
            return ("http".equals(address.getScheme()) || "https".equals(address.getScheme()))
                    && address.getHost() != null
                    && address.getUserInfo() == null;
        } catch (URISyntaxException e) {
            return false;
        }
    }
}
