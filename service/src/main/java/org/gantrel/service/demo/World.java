package org.gantrel.service.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.access.Role;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.yaml.Section;
import org.gantrel.service.credential.Credentials;

/**
 * The demo's world: its teams, its people, and how its jobs usually do.
 *
 * @param password the password of every account
 * @param absence how long ago the service was down, and for how long: what was due then was missed
 */
record World(
        Map<String, String> teams,
        List<Inhabitant> people,
        String password,
        Map<String, Habit> habits,
        Absent absence,
        Map<String, Credentials.Draft> credentials) {

    /** Somebody with an account. */
    record Inhabitant(
            String name,
            String fullName,
            boolean administrator,
            Map<String, Role> roles,
            String mail,
            boolean sleeps) {}

    /**
     * How a job usually does.
     *
     * @param takes how long it takes as a rule
     * @param fails how many of a hundred runs fail
     * @param warns how many of a hundred runs end with a warning
     * @param failure what a run that fails says last
     * @param log what every run says
     * @param lately since how long every run fails
     * @param skips how many of a hundred runs do not start at all
     * @param skip why not
     * @param gives the results of a good run, as they usually are
     */
    record Habit(
            Duration takes,
            int fails,
            int warns,
            String failure,
            List<String> log,
            Duration lately,
            int skips,
            String skip,
            Map<String, Integer> gives) {}

    record Absent(Duration ago, Duration length) {}

    static World read(Path file) throws IOException {
        var problems = new ArrayList<Problem>();
        World world = Section.compose(Files.readString(file), problems)
                .map(World::read)
                .orElseThrow(() -> new InvalidException(problems));
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return world;
    }

    private static World read(Section section) {
        section.knowing("teams", "people", "password", "history", "absence", "credentials");
        var credentials = new LinkedHashMap<String, Credentials.Draft>();
        section.section("credentials").ifPresent(all -> all.keys()
                .forEach(name -> all.section(name).ifPresent(form -> credentials.put(name, credential(form)))));
        var habits = new LinkedHashMap<String, Habit>();
        section.section("history").ifPresent(history -> history.keys()
                .forEach(job -> history.section(job).ifPresent(form -> habits.put(job, habit(form)))));
        Section absence = section.section("absence").orElseThrow().knowing("ago", "length");
        return new World(
                section.map("teams", 300),
                section.sections("people").stream().map(World::inhabitant).toList(),
                section.needed("password", 72, "the password of every account"),
                habits,
                new Absent(duration(absence, "ago"), duration(absence, "length")),
                credentials);
    }

    private static Inhabitant inhabitant(Section form) {
        form.knowing("name", "full-name", "administrator", "roles", "mail", "sleeps");
        var roles = new LinkedHashMap<String, Role>();
        form.map("roles", 20)
                .forEach((team, role) -> roles.put(team, Role.of(role).orElseThrow()));
        return new Inhabitant(
                form.needed("name", 60, "the account"),
                form.needed("full-name", 120, "the person's name"),
                form.yes("administrator", false),
                roles,
                form.text("mail", 300).orElse(""),
                form.yes("sleeps", false));
    }

    private static Credentials.Draft credential(Section form) {
        form.knowing("team", "kind", "about", "facts", "secrets", "for-teams");
        return new Credentials.Draft(
                form.needed("team", 60, "who keeps it"),
                CredentialKind.of(form.needed("kind", 20, "what it is")).orElseThrow(),
                form.text("about", 300).orElse(""),
                form.map("facts", 300),
                form.map("secrets", 300),
                null,
                form.texts("for-teams", 60),
                List.of());
    }

    private static Map<String, Integer> gives(Section form) {
        var gives = new LinkedHashMap<String, Integer>();
        form.map("gives", 10).forEach((name, text) -> gives.put(name, Integer.parseInt(text)));
        return gives;
    }

    private static Habit habit(Section form) {
        form.knowing("takes", "fails", "warns", "failure", "log", "lately", "skips", "skip", "gives");
        return new Habit(
                duration(form, "takes"),
                Integer.parseInt(form.text("fails", 3).orElse("0")),
                Integer.parseInt(form.text("warns", 3).orElse("0")),
                form.text("failure", 200).orElse("something went wrong"),
                form.texts("log", 200),
                form.has("lately") ? duration(form, "lately") : Duration.ZERO,
                Integer.parseInt(form.text("skips", 3).orElse("0")),
                form.text("skip", 300).orElse(""),
                gives(form));
    }

    private static Duration duration(Section form, String key) {
        return Duration.parse(form.needed(key, 20, "a duration such as PT5M"));
    }
}
