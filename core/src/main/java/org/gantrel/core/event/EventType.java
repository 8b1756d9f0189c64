package org.gantrel.core.event;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.ValueKind;

/**
 * What can happen, as the journal names it and as triggers wait for it. This is the one list: what a trigger may say of an
 * event and the table in the docs are made from it.
 */
public enum EventType {
    RUN_CREATED("run.created", About.JOB, "A run was written down.", Fields.RUN),
    RUN_STARTED("run.started", About.JOB, "A run began.", Fields.RUN),
    RUN_ENDED("run.ended", About.JOB, "A run ended, however it did; `ends` says which ends are meant.", Fields.RUN),
    RUN_LATE("run.late", About.JOB, "A run is late: its deadline came before its end.", Fields.RUN),
    RUN_LONG("run.long", About.JOB, "A run takes far longer than usual.", Fields.RUN),
    RUN_WAITS("run.waits", About.JOB, "A run has waited longer than its job's `expect` allows.", Fields.RUN),
    STEP_ENDED("step.ended", About.JOB, "A step of a chain ended; `step` names it.", Fields.STEP),
    JOB_RECOVERED("job.recovered", About.JOB, "A job is good again after a failure.", Fields.RUN),
    JOB_SILENT("job.silent", About.JOB, "What a job's `expect` asks for has not come.", Fields.SILENCE),
    JOB_HEARD("job.heard", About.JOB, "What was silent has come after all.", Fields.SILENCE),
    JOB_AT_RISK(
            "job.at-risk",
            About.JOB,
            "A job will probably miss a deadline, as the forecast has said for some minutes; told once for each start.",
            Fields.RISK),
    JOB_CHANGED("job.changed", About.JOB, "A job was changed, switched or retired.", Fields.CHANGE),
    SCHEDULE_OVER("schedule.over", About.JOB, "A schedule has no coming start any more.", Fields.SCHEDULE),
    FILE_ARRIVED("file.arrived", About.WATCH, "A file came into the watched folder and is complete.", Fields.FILE),
    FILE_CHANGED("file.changed", About.WATCH, "A file that was there has another size or time.", Fields.FILE),
    FILE_GONE("file.gone", About.WATCH, "A file that was there is gone.", Fields.FILE),
    FILE_AGED("file.aged", About.WATCH, "A file has reached the age that `age` names.", Fields.FILE),
    FOLDER_SILENT(
            "folder.silent", About.WATCH, "Nothing came into the folder for as long as `for` says.", Fields.FOLDER),
    CALL_RECEIVED("call.received", About.CALL, "Another system called the trigger's address.", Fields.CALL),
    CALL_REFUSED("call.refused", About.TEAM, "A call of a trigger's address did not show what it takes.", Fields.THING),
    ROW_FOUND("row.found", About.QUERY, "A query found a row that it did not find at the last look.", Fields.ROW),
    CALENDAR_CHANGED("calendar.changed", About.TEAM, "A calendar was changed.", Fields.THING),
    ROSTER_CHANGED("roster.changed", About.TEAM, "A roster was changed: its definition or its rows.", Fields.THING),
    TEAM_CHANGED("team.changed", About.TEAM, "A team was changed, or who is in it.", Fields.THING),
    LANE_CHANGED("lane.changed", About.TEAM, "A lane was changed, widened, closed or opened.", Fields.THING),
    LANE_CROWDED(
            "lane.crowded", About.TEAM, "A run has waited for a place in a lane for ten minutes on end.", Fields.THING),
    CREDENTIAL_CHANGED("credential.changed", About.TEAM, "A credential was changed.", Fields.THING),
    CREDENTIAL_EXPIRING("credential.expiring", About.TEAM, "A credential ends soon.", Fields.THING),
    SERVICE_STARTED("service.started", About.INSTALLATION, "The service started.", Fields.NOTE),
    SERVICE_STOPPED("service.stopped", About.INSTALLATION, "The service was stopped in order.", Fields.NOTE),
    SERVICE_WAS_DOWN("service.was-down", About.INSTALLATION, "The service is back after it was away.", Fields.NOTE),
    SERVICE_CLOCK_PUT_BACK(
            "service.clock-put-back",
            About.INSTALLATION,
            "The service's clock was put back; starts after the new time that count as missed come again.",
            Fields.NOTE),
    SIGNIN_ACCEPTED("signin.accepted", About.INSTALLATION, "Somebody signed in.", Fields.SIGN_IN),
    SIGNIN_REFUSED("signin.refused", About.INSTALLATION, "Somebody was not let in.", Fields.SIGN_IN),
    TOKEN_REFUSED(
            "token.refused", About.INSTALLATION, "A token was used that is unknown, revoked or over.", Fields.SIGN_IN),
    PERSON_CHANGED(
            "person.changed",
            About.INSTALLATION,
            "An account was made, shut or opened, or got another password.",
            Fields.THING),
    BACKUP_MADE("backup.made", About.INSTALLATION, "The database was backed up.", Fields.NOTE),
    BACKUP_FAILED(
            "backup.failed",
            About.INSTALLATION,
            "The database could not be backed up; told once until it can.",
            Fields.NOTE),
    DISK_LOW("disk.low", About.INSTALLATION, "Little room is left where the service keeps its data.", Fields.NOTE);

    /** What all types begin with in the journal. */
    public static final String PREFIX = "gantrel.";

    /** What an event is about, which says how a trigger names those that it means. */
    public enum About {
        /** A job: {@code of}, {@code labels} and {@code teams} say which. */
        JOB,
        /** Files in the folder that the trigger itself watches. */
        WATCH,
        /** A call of the trigger's own address. */
        CALL,
        /** Rows of the query that the trigger itself asks. */
        QUERY,
        /** Something that a team owns: its own, or those of {@code teams}. */
        TEAM,
        /** The installation; for administrators alone. */
        INSTALLATION
    }

    /** A field of an event, which conditions and values name: {@code event.path}. */
    public record Field(String name, ValueKind kind, String about) {}

    private final String word;
    private final About about;
    private final String sentence;
    private final List<Field> fields;

    EventType(String word, About about, String sentence, List<Field> own) {
        this.word = word;
        this.about = about;
        this.sentence = sentence;
        this.fields = new ArrayList<>(own);
        this.fields.addAll(Fields.ALWAYS);
    }

    /** What definitions call it. */
    public String word() {
        return word;
    }

    /** What the journal calls it. */
    public String type() {
        return PREFIX + word;
    }

    public About about() {
        return about;
    }

    /** What it means. */
    public String sentence() {
        return sentence;
    }

    public List<Field> fields() {
        return List.copyOf(fields);
    }

    /** What its fields are, by name. */
    public Map<String, ValueKind> kinds() {
        Map<String, ValueKind> kinds = new LinkedHashMap<>();
        fields.forEach(field -> kinds.put(field.name(), field.kind()));
        return kinds;
    }

    /** Whether events of this type tell of a run, whose outcome and results a trigger may speak of. */
    public boolean tellsOfRun() {
        return fields.stream().anyMatch(field -> field.name().equals("run"));
    }

    /** Whether its events are found by looking at files. */
    public boolean isWatched() {
        return about == About.WATCH;
    }

    public static Optional<EventType> of(String word) {
        return Arrays.stream(values()).filter(each -> each.word.equals(word)).findFirst();
    }

    /** By what the journal calls it; nothing for what the journal holds for the service's own use. */
    public static Optional<EventType> ofType(String type) {
        return type.startsWith(PREFIX) ? of(type.substring(PREFIX.length())) : Optional.empty();
    }

    /** Whether a text is a type, or what some types begin with and a star, such as {@code run.*}. */
    public static boolean isOne(String text) {
        return text.endsWith(".*")
                ? words().stream().anyMatch(word -> word.startsWith(text.substring(0, text.length() - 1)))
                : words().contains(text);
    }

    public static List<String> words() {
        return Arrays.stream(values()).map(EventType::word).toList();
    }

    /** The fields that several types share. */
    private static final class Fields {
        private static final List<Field> ALWAYS = List.of(
                text("id", "the number of the event in the journal"),
                text("type", "such as `run.ended`"),
                text("at", "when, as ISO 8601 writes it"),
                text("team", "whose it is; empty for the installation's"));

        private static final List<Field> RUN = List.of(
                number("run", "the number of the run"),
                text("job", "the job"),
                text("state", "such as `failed`"),
                text("cause", "what started it, such as `schedule`"),
                text("person", "who started it; empty where it started by itself"),
                text("message", "what is said of its end"));
        private static final List<Field> STEP = List.of(
                number("run", "the number of the step's run, or of the chain's where it has none"),
                text("job", "the chain"),
                text("step", "the step"),
                text("state", "such as `failed`"),
                text("message", "what is said of its end"));
        private static final List<Field> SILENCE = List.of(
                text("job", "the job"),
                text("what", "what was expected: `good-within`, `coming-start` or a folder"),
                text("since", "since when it is silent, as ISO 8601 writes it"),
                text("message", "the same as a sentence"));
        private static final List<Field> RISK = List.of(
                text("job", "the job"),
                text("schedule", "the schedule"),
                text("planned", "when it is planned, as ISO 8601 writes it"),
                text("deadline", "when it is to have ended, as ISO 8601 writes it"),
                text("message", "by how much it will be missed, and because of what"));
        private static final List<Field> CHANGE =
                List.of(text("job", "the job"), number("revision", "the revision that it has now"));
        private static final List<Field> SCHEDULE =
                List.of(text("job", "the job"), text("schedule", "the schedule"), text("message", "a sentence"));
        private static final List<Field> FILE = List.of(
                text("path", "the whole path"),
                text("name", "the name without its folder"),
                text("stem", "the name without its ending"),
                text("folder", "the folder that is watched"),
                number("size", "in bytes"),
                text("modified", "when it was written last, as ISO 8601 writes it"));
        private static final List<Field> FOLDER = List.of(
                text("folder", "the folder that is watched"),
                text("since", "when something came last, as ISO 8601 writes it"),
                text("message", "a sentence"));
        private static final List<Field> CALL = List.of(
                text("source", "who calls, as the call itself says; empty where it does not"),
                text("subject", "what it is about, as the call itself says"),
                text("kind", "the type that a CloudEvent has"),
                text("key", "what makes the call one and the same when it comes twice"));
        private static final List<Field> ROW =
                List.of(text("key", "what makes the row one and the same"), text("query", "the name of the trigger"));
        private static final List<Field> THING =
                List.of(text("name", "its name"), text("what", "what happened to it"), text("message", "a sentence"));
        private static final List<Field> NOTE = List.of(text("message", "a sentence"));
        private static final List<Field> SIGN_IN =
                List.of(text("person", "the name that was given"), text("message", "a sentence"));

        private static Field text(String name, String about) {
            return new Field(name, ValueKind.TEXT, about);
        }

        private static Field number(String name, String about) {
            return new Field(name, ValueKind.NUMBER, about);
        }
    }
}
