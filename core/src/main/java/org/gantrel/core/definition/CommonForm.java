package org.gantrel.core.definition;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.Template;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Retention;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.Emptiness;
import org.gantrel.core.text.Durations;
import org.gantrel.core.text.Glob;
import org.gantrel.core.text.MailAddress;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.SafePattern;
import org.gantrel.core.text.Words;
import org.gantrel.core.text.Zones;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;
import org.gantrel.core.yaml.Section;

/** Reads what tasks and chains have in common: name, team, parameters, schedules and who is told. */
final class CommonForm {

    static final int LONGEST_TEXT = 10_000;
    static final int LONGEST_LINE = 300;
    private static final String LONGEST_KEEP = "P36500D";

    static final String PERSON = "[a-z][a-z0-9]*([.-][a-z0-9]+)*";
    private static final Pattern SIZE = Pattern.compile("(\\d{1,9})\\s*([kMG]?)B?");

    private CommonForm() {}

    /** A name that a URL, a file and a command line can hold as it is. */
    static String name(Section section, String key, String meaning) {
        String name = section.needed(key, Job.LONGEST_NAME, meaning);
        if (!name.isEmpty() && !name.matches(Job.NAME)) {
            section.complain(
                    key,
                    "'" + name + "' is no name: lower-case letters, digits and single dashes, beginning with a letter");
        }
        return name;
    }

    static String team(Section section) {
        return name(section, "team", "the team that owns it");
    }

    static String about(Section section) {
        return section.text("about", LONGEST_LINE).map(String::strip).orElse("");
    }

    /** What it means that there is nothing; a success where nothing is said. */
    static Emptiness whenEmpty(Section form) {
        return word(form, "when-empty", Emptiness.words())
                .map(word -> Emptiness.values()[Emptiness.words().indexOf(word)])
                .orElse(Emptiness.SUCCEEDED);
    }

    /** Checks the name of a value that is kept. */
    static void valueName(Section form, String key, String name) {
        if (!name.matches("[A-Za-z_][A-Za-z0-9_-]{0,59}")) {
            form.complain(
                    key,
                    "'" + name
                            + "' is no name of a value: letters, digits, dashes and underscores, such as open_passes");
        }
    }

    /** Checks the expressions of a text; says whether they are fine. */
    static boolean check(Section section, String key, String text, Collection<String> names) {
        try {
            Template.of(text).check(names);
            return true;
        } catch (ExpressionException e) {
            section.complain(key, e.getMessage());
            return false;
        }
    }

    /** Reads a regular expression. One that was right by older rules is complained of, and still read. */
    static Optional<SafePattern> pattern(Section section, String key, String text) {
        try {
            return Optional.of(SafePattern.of(text));
        } catch (IllegalArgumentException wrong) {
            section.complain(key, wrong.getMessage());
        }
        try {
            return Optional.of(SafePattern.kept(text));
        } catch (IllegalArgumentException e) {
            return Optional.empty();
        }
    }

    /** A path may be a glob; one that is none would only be found out when the run has ended. */
    static void glob(Section form, String key, String path) {
        try {
            Glob.of(path.replaceAll("\\$\\{[^}]*}", "x"));
        } catch (IllegalArgumentException e) {
            form.complain(key, e.getMessage());
        }
    }

    static List<Schedule> schedules(Section section, Parameters parameters) {
        var schedules = new ArrayList<Schedule>();
        var names = new HashSet<String>();
        for (Section form : section.sections("schedules")) {
            form.knowing(
                    "name",
                    "when",
                    "zone",
                    "on",
                    "with",
                    "calendar",
                    "except",
                    "shift",
                    "window",
                    "from",
                    "until",
                    "missed",
                    "over",
                    "deadline");
            String name = name(form, "name", "what the schedule is called within its job");
            if (!names.add(name)) {
                form.complain("name", "'" + name + "' is the name of another schedule of this job");
            }
            String when = form.needed("when", When.LONGEST, "such as 'every day at 02:30' or '30 2 * * *'");
            ZoneId zone = zone(form);
            timetable(form, when, zone);
            Map<String, String> with = form.map("with", LONGEST_TEXT);
            form.complain("with", parameters.complaints(with));
            with.values().forEach(text -> check(form, "with", text, List.of()));
            refuseSecrets(form, parameters, with);
            refuseMissing(form, parameters, with);
            schedules.add(ScheduleForm.read(form, name, when, zone, with));
        }
        return schedules;
    }

    /** A definition is there to be read, so no secret stands in one. */
    private static void refuseSecrets(Section form, Parameters parameters, Map<String, String> with) {
        parameters.all().stream()
                .filter(parameter -> parameter.isSecret() && with.containsKey(parameter.name()))
                .forEach(parameter -> form.complain(
                        "with." + parameter.name(),
                        "is a secret, which a definition cannot hold; it is given at a start by hand"));
    }

    private static void refuseMissing(Section form, Parameters parameters, Map<String, String> with) {
        for (Parameter parameter : parameters.all()) {
            if (parameter.fallback().isEmpty() && !with.containsKey(parameter.name()) && !form.has("over")) {
                form.complain(
                        "with." + parameter.name(),
                        "is missing: the parameter has no default, and nobody is there to be asked");
            }
        }
    }

    static void timetable(Section form, String when, ZoneId zone) {
        if (when.isEmpty()) {
            return;
        }
        try {
            Timetable timetable = When.parse(when);
            if (timetable.needsStart()) {
                form.complain(
                        "when",
                        timetable.kind() == Timetable.Kind.PHRASE
                                ? "'" + when + "' is counted from a first day: '" + when
                                        + " from 2026-11-23' would be right"
                                : "the rule needs its start: DTSTART:20261123T090000 before RRULE:" + when);
            } else if (timetable.ownZone().isPresent()
                    && !timetable.ownZone().get().equals(zone)) {
                form.complain(
                        "zone", "the rule is meant in " + timetable.ownZone().get() + ", and the schedule in " + zone);
            } else if (timetable.next(Instant.EPOCH, zone).isEmpty()) {
                form.complain("when", "'" + when + "' never comes round");
            }
        } catch (WhenException e) {
            form.complain("when", "'" + when + "', " + e.sentence());
        }
    }

    static ZoneId zone(Section form) {
        String name = form.needed("zone", 60, "such as Europe/Oslo");
        if (name.isEmpty()) {
            return ZoneId.of("UTC");
        }
        try {
            return ZoneId.of(name);
        } catch (DateTimeException e) {
            form.complain("zone", "'" + name + "' is no time zone" + Zones.hint(name));
            return ZoneId.of("UTC");
        }
    }

    /**
     * A duration from a second on.
     *
     * @param most the longest that is taken, as ISO 8601 writes it
     */
    static Optional<Duration> duration(Section section, String key, String most) {
        return duration(section, key, Duration.ofSeconds(1), most);
    }

    /** The same from a length on that may be shorter than a second. */
    static Optional<Duration> duration(Section section, String key, Duration least, String most) {
        Optional<String> text = section.text(key, 40);
        if (text.isEmpty()) {
            return Optional.empty();
        }
        Optional<Duration> duration = Durations.parse(text.get())
                .filter(found -> found.compareTo(least) >= 0 && found.compareTo(Duration.parse(most)) <= 0);
        if (duration.isEmpty()) {
            section.complain(
                    key,
                    "'" + text.get() + "': a duration from "
                            + (least.toMillis() < 1_000 ? least.toMillis() + " ms" : "1 s") + " to "
                            + Words.duration(Duration.parse(most)) + ", "
                            + Durations.FORM);
        }
        return duration;
    }

    /** A number of bytes, such as 500kB or 10MB. */
    static Optional<Long> size(Section section, String key) {
        Optional<String> text = section.text(key, 20);
        Matcher matcher = SIZE.matcher(text.orElse("0"));
        if (!matcher.matches()) {
            section.complain(key, "'" + text.get() + "': a size such as 500kB, 10MB or 2GB is expected");
            return Optional.empty();
        }
        long unit = (long) Math.pow(1_000, List.of("", "k", "M", "G").indexOf(matcher.group(2)));
        return text.map(found -> Long.parseLong(matcher.group(1)) * unit);
    }

    /** One text, or a list of some. */
    static List<String> some(Section section, String key) {
        return section.isList(key)
                ? section.texts(key, LONGEST_LINE)
                : section.text(key, LONGEST_LINE).stream().toList();
    }

    /** A full path; where it begins is not known before a run where it begins with an expression. */
    static String fullPath(Section section, String key, Collection<String> names) {
        String path = section.text(key, 1_000).orElse("");
        check(section, key, path, names);
        if (!path.isEmpty() && !path.startsWith("/") && !path.startsWith("${")) {
            section.complain(key, "'" + path + "' is no full path; one begins with /");
        }
        return path;
    }

    /** The full path of a folder that is watched, without a slash at its end. */
    static String watchedFolder(Section section) {
        String folder = section.needed("under", 1_000, "the full path of the folder that is watched");
        if (!folder.isEmpty()
                && (!folder.startsWith("/") || (folder + "/").contains("/../") || folder.contains("\0"))) {
            section.complain("under", "'" + folder + "' is no full path without '..', such as /srv/tides");
        }
        return folder.length() > 1 && folder.endsWith("/") ? folder.substring(0, folder.length() - 1) : folder;
    }

    /** Which of the files of a folder that is watched are meant; all of them where nothing is said. */
    static List<String> watchedFiles(Section section) {
        List<String> matching = some(section, "matching");
        matching.forEach(glob -> glob(section, "matching", glob));
        return matching.isEmpty() ? List.of("*") : matching;
    }

    /** Whether a text is a mail address, as far as its form goes. */
    static boolean isAddress(String text) {
        return MailAddress.isOne(text);
    }

    static Optional<LocalDate> date(Section section, String key) {
        Optional<String> text = section.text(key, 40);
        try {
            return text.map(LocalDate::parse);
        } catch (DateTimeParseException e) {
            section.complain(key, "'" + text.get() + "': a date such as 2026-12-24 is expected");
            return Optional.empty();
        }
    }

    /** A local time such as 05:30. */
    static Optional<LocalTime> time(Section section, String key) {
        Optional<String> text = section.text(key, 40);
        try {
            return text.map(LocalTime::parse);
        } catch (DateTimeParseException e) {
            section.complain(key, "'" + text.get() + "': a local time such as \"05:30\" is expected, in quotes");
            return Optional.empty();
        }
    }

    /** A whole number from one to another. */
    static Optional<Integer> number(Section section, String key, int least, int most) {
        Optional<String> text = section.text(key, 20);
        if (text.isPresent()
                && (!text.get().matches("-?\\d{1,6}")
                        || Integer.parseInt(text.get()) < least
                        || Integer.parseInt(text.get()) > most)) {
            section.complain(
                    key, "'" + text.get() + "': a whole number from " + least + " to " + most + " is expected");
            return Optional.empty();
        }
        return text.map(Integer::parseInt);
    }

    /** One of some words. */
    static Optional<String> word(Section section, String key, List<String> words) {
        Optional<String> word = section.text(key, 40);
        if (word.isPresent() && !words.contains(word.get())) {
            String right = words.size() == 1 ? "only '" + words.get(0) + "' is possible" : String.join(", ", words);
            section.complain(key, "'" + word.get() + "': " + right + Nearest.hint(word.get(), words));
            return Optional.empty();
        }
        return word;
    }

    /** How long runs and logs are kept: {@code keep: { runs: 400 days, logs: 90 days }}. */
    static Retention retention(Section section) {
        Optional<Section> keep = section.section("keep");
        if (keep.isEmpty()) {
            return Retention.UNSAID;
        }
        keep.get().knowing("runs", "logs");
        return new Retention(duration(keep.get(), "runs", LONGEST_KEEP), duration(keep.get(), "logs", LONGEST_KEEP));
    }

    /** Who is concerned: {@code owner}, {@code labels} and {@code notify}. */
    static Job.Concern concern(Section section) {
        return new Job.Concern(person(section, "owner"), labels(section, "labels"), mailOnFailure(section));
    }

    /** The name of a person; empty where none is named. */
    static String person(Section section, String key) {
        String name = section.text(key, 60).orElse("");
        if (!name.isEmpty() && !name.matches(PERSON)) {
            section.complain(key, "'" + name + "' is no name of a person, such as mara.holt");
        }
        return name;
    }

    /** Labels: what jobs are sorted by. */
    static List<String> labels(Section section, String key) {
        List<String> labels = section.texts(key, Job.LONGEST_NAME);
        labels.stream()
                .filter(label -> !label.matches(Job.NAME))
                .forEach(label -> section.complain(
                        key,
                        "'" + label + "' is no label: lower-case letters, digits and single dashes, such as night"));
        return labels.stream().distinct().toList();
    }

    private static List<String> mailOnFailure(Section section) {
        var addresses = new ArrayList<String>();
        section.section("notify").ifPresent(notify -> {
            notify.knowing("failed");
            for (String address : notify.texts("failed", LONGEST_LINE)) {
                if (!isAddress(address)) {
                    notify.complain("failed", "'" + address + "' is no mail address");
                }
                addresses.add(address);
            }
        });
        return addresses;
    }
}
