package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.gantrel.core.calendar.Calendar;
import org.gantrel.core.job.Job;
import org.gantrel.core.lane.Lane;
import org.gantrel.core.notification.Telling;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;
import org.gantrel.core.yaml.Section;

/**
 * Reads definition files: YAML 1.2 (of which JSON is a part), one job, calendar, roster or lane a document, its first key naming what it
 * is.
 *
 * <p>Each document is read by itself, so that a fault in one does not hide those in the others.
 */
public final class DefinitionReader {

    /** The longest file that is taken, in characters. */
    public static final int LONGEST_FILE = 1_000_000;

    private static final Pattern DOCUMENT_START = Pattern.compile("---(\\s.*)?");
    static final List<String> KINDS = List.of(
            "task", "chain", "calendar", "roster", "lane", "notification", "duty", "channel", "digest", "wording");

    private record Document(int firstLine, String text) {}

    private final List<Problem> problems = new ArrayList<>();
    private final List<Definition> definitions = new ArrayList<>();
    private final List<CalendarDefinition> calendars = new ArrayList<>();
    private final List<RosterDefinition> rosters = new ArrayList<>();
    private final List<LaneDefinition> lanes = new ArrayList<>();
    private final List<TellingDefinition> tellings = new ArrayList<>();

    private final Set<Integer> wrong = new HashSet<>();
    private boolean kept;

    private DefinitionReader() {}

    /**
     * Reads every document of a file.
     *
     * @throws InvalidException with every problem of the file
     */
    public static Definitions read(String text) {
        var reader = new DefinitionReader();
        reader.readAll(text);
        if (!reader.problems.isEmpty()) {
            throw new InvalidException(reader.problems);
        }
        return new Definitions(reader.definitions, reader.calendars, reader.rosters, reader.lanes, reader.tellings);
    }

    /**
     * Reads a file that holds one job.
     *
     * @throws InvalidException with every problem of the text, also where it holds no job or several
     */
    public static Definition readOne(String text) {
        Definitions all = read(text);
        if (all.jobs().size() != 1
                || !all.calendars().isEmpty()
                || !all.rosters().isEmpty()) {
            int others = all.calendars().size();
            throw new InvalidException(
                    "",
                    "one job is expected here, and there are " + all.jobs().size()
                            + (others == 0 ? "" : " and " + Words.count(others, "calendar")));
        }
        return all.jobs().get(0);
    }

    /**
     * Reads a job that was right when it was saved. Rules that came later do not make it wrong: whoever saves it again is
     * told of them, and until then it does what it did.
     *
     * @throws InvalidException where the text cannot be read at all
     */
    public static Job readKept(String text) {
        var reader = new DefinitionReader();
        reader.kept = true;
        reader.readAll(text);
        if (reader.definitions.size() != 1) {
            throw new InvalidException(reader.problems);
        }
        return reader.definitions.get(0).job();
    }

    /**
     * What can be read of a file, and what is wrong with it. A definition that is wrong is there as far as it could be read,
     * so that others which speak of it are not complained of.
     *
     * @param wrong the first lines of the documents that are wrong
     */
    public record Reading(Definitions read, List<Problem> problems, Set<Integer> wrong) {}

    /** Reads as much of a file as can be read. */
    public static Reading readAsFarAsPossible(String text) {
        var reader = new DefinitionReader();
        reader.kept = true;
        reader.readAll(text);
        return new Reading(
                new Definitions(reader.definitions, reader.calendars, reader.rosters, reader.lanes, reader.tellings),
                reader.problems,
                reader.wrong);
    }

    /**
     * Reads a calendar that was right when it was saved.
     *
     * @throws InvalidException where the text cannot be read at all
     */
    public static Calendar readKeptCalendar(String text) {
        Reading reading = readAsFarAsPossible(text);
        if (reading.read().calendars().size() != 1) {
            throw new InvalidException(reading.problems());
        }
        return reading.read().calendars().get(0).calendar();
    }

    /**
     * Reads a file that holds one calendar.
     *
     * @throws InvalidException with every problem of the text, also where it holds none, several or jobs
     */
    public static CalendarDefinition readCalendar(String text) {
        Definitions all = read(text);
        if (all.calendars().size() != 1 || !all.jobs().isEmpty()) {
            throw new InvalidException("", "one calendar is expected here, beginning with 'calendar: NAME'");
        }
        return all.calendars().get(0);
    }

    /**
     * Reads a file that holds one roster.
     *
     * @throws InvalidException with every problem of the text, also where it holds none, several or other things
     */
    public static RosterDefinition readRoster(String text) {
        Definitions all = read(text);
        if (all.rosters().size() != 1
                || !all.jobs().isEmpty()
                || !all.calendars().isEmpty()) {
            throw new InvalidException("", "one roster is expected here, beginning with 'roster: NAME'");
        }
        return all.rosters().get(0);
    }

    /**
     * Reads a file that holds one lane.
     *
     * @throws InvalidException with every problem of the text, also where it holds none, several or other things
     */
    public static LaneDefinition readLane(String text) {
        Definitions all = read(text);
        if (all.lanes().size() != 1
                || !all.jobs().isEmpty()
                || !all.calendars().isEmpty()
                || !all.rosters().isEmpty()) {
            throw new InvalidException("", "one lane is expected here, beginning with 'lane: NAME'");
        }
        return all.lanes().get(0);
    }

    /**
     * Reads a file that holds one rule, duty list or channel.
     *
     * @throws InvalidException with every problem of the text, also where it holds none, several or other things
     */
    public static TellingDefinition readTelling(String text) {
        Definitions all = read(text);
        int others = all.jobs().size()
                + all.calendars().size()
                + all.rosters().size()
                + all.lanes().size();
        if (all.tellings().size() != 1 || others > 0) {
            throw new InvalidException(
                    "",
                    "one is expected here, beginning with 'notification: NAME', 'duty: NAME', 'channel: NAME' or 'digest: NAME'");
        }
        return all.tellings().get(0);
    }

    /**
     * Reads one that was right when it was saved.
     *
     * @throws InvalidException where the text cannot be read at all
     */
    public static Telling readKeptTelling(String text) {
        Reading reading = readAsFarAsPossible(text);
        if (reading.read().tellings().size() != 1) {
            throw new InvalidException(reading.problems());
        }
        return reading.read().tellings().get(0).telling();
    }

    private void readAll(String text) {
        if (text.length() > LONGEST_FILE) {
            problems.add(Problem.of("", "too long: " + text.length() + " characters, at most " + LONGEST_FILE));
            return;
        }
        for (Document document : documents(text)) {
            var found = new ArrayList<Problem>();
            Section.compose(document.text(), found).ifPresent(section -> {
                section.refuseNothing("json");
                read(section, document, found);
            });
            found.forEach(problem -> problems.add(problem.down(document.firstLine() - 1)));
            if (!found.isEmpty()) {
                wrong.add(document.firstLine());
            }
        }
        if (definitions.isEmpty()
                && calendars.isEmpty()
                && rosters.isEmpty()
                && lanes.isEmpty()
                && tellings.isEmpty()
                && problems.isEmpty()) {
            problems.add(Problem.of(
                    "",
                    "there is no definition in it; it should begin with "
                            + either(KINDS.stream().map(kind -> "'" + kind + ": NAME'"))));
        }
        for (int i = 0; i < definitions.size(); i++) {
            refuseRepeated(i);
        }
    }

    private void refuseRepeated(int index) {
        Definition later = definitions.get(index);
        definitions.stream()
                .limit(index)
                .filter(earlier -> earlier.job().name().equals(later.job().name()))
                .findFirst()
                .ifPresent(earlier -> problems.add(new Problem(
                        "",
                        later.line(),
                        1,
                        "the job " + later.job().name() + " is defined already at line " + earlier.line())));
    }

    private void read(Section section, Document document, List<Problem> found) {
        if (section.keys().stream().findFirst().equals(Optional.of("calendar"))) {
            int before = found.size();
            Calendar calendar = CalendarForm.read(section);
            if (kept || found.size() == before) {
                calendars.add(new CalendarDefinition(calendar, document.firstLine(), document.text()));
            }
            return;
        }
        if (section.keys().stream().findFirst().equals(Optional.of("roster"))) {
            int before = found.size();
            Roster roster = RosterForm.read(section);
            if (kept || found.size() == before) {
                rosters.add(new RosterDefinition(roster, document.firstLine(), document.text()));
            }
            return;
        }
        if (section.keys().stream().findFirst().equals(Optional.of("lane"))) {
            int before = found.size();
            Lane lane = LaneForm.read(section);
            if (kept || found.size() == before) {
                lanes.add(new LaneDefinition(lane, document.firstLine(), document.text()));
            }
            return;
        }
        Optional<String> telling = section.keys().stream().findFirst().filter(Telling.KINDS::contains);
        if (telling.isPresent()) {
            int before = found.size();
            Telling read = TellingForm.read(telling.get(), section);
            if (kept || found.size() == before) {
                tellings.add(new TellingDefinition(read, document.firstLine(), document.text()));
            }
            return;
        }
        readJob(section, found)
                .ifPresent(job -> definitions.add(new Definition(job, document.firstLine(), document.text())));
    }

    private Optional<Job> readJob(Section section, List<Problem> problems) {
        if (!problems.isEmpty() && section.keys().isEmpty()) {
            return Optional.empty();
        }
        String kind = section.keys().isEmpty() ? "" : section.keys().get(0);
        int before = problems.size();
        Job job;
        switch (kind) {
            case "task" -> job = TaskForm.read(section);
            case "chain" -> job = ChainForm.read(section);
            default -> {
                section.complain(
                        kind,
                        "the first key says what is defined: "
                                + either(KINDS.stream().map(each -> "'" + each + "'"))
                                + Nearest.hint(kind, KINDS));
                return Optional.empty();
            }
        }
        return kept || problems.size() == before ? Optional.of(job) : Optional.empty();
    }

    private static String either(Stream<String> words) {
        List<String> all = words.toList();
        return String.join(", ", all.subList(0, all.size() - 1)) + " or " + all.get(all.size() - 1);
    }

    private static List<Document> documents(String text) {
        var documents = new ArrayList<Document>();
        var lines = new StringBuilder();
        int first = 1;
        int number = 0;
        for (String line : text.split("\n", -1)) {
            number++;
            if (DOCUMENT_START.matcher(line.stripTrailing()).matches()) {
                documents.add(new Document(first, lines.toString()));
                lines.setLength(0);
                first = number + 1;
            } else {
                lines.append(line).append('\n');
            }
        }
        documents.add(new Document(first, lines.toString()));
        documents.removeIf(
                document -> document.text().lines().allMatch(line -> line.isBlank() || line.startsWith("#")));
        return documents.stream()
                .map(document ->
                        new Document(document.firstLine(), document.text().stripTrailing() + "\n"))
                .toList();
    }
}
