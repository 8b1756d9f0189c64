package org.gantrel.service.team;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.access.Role;
import org.gantrel.core.job.Retention;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Durations;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Teams and their members. */
@RestController
@RequestMapping("/api/v1/teams")
class TeamApi {

    /**
     * A team.
     *
     * @param members each member's role
     * @param mayDo what the caller may do in it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record TeamView(
            String name,
            String about,
            Map<String, String> members,
            List<String> mayDo,
            KeepView keep,
            List<String> folders) {}

    /** How long runs and logs are kept where the jobs say nothing; missing where the team says nothing either. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record KeepView(Duration runs, Duration logs) {}

    /** As people write it, such as 400 days; missing or empty for what the installation says. */
    record KeepBody(String runs, String logs) {}

    /** @param folders full paths; none for all that the accounts of the jobs may use */
    record FoldersBody(List<String> folders) {}

    record NewTeam(String name, String about) {}

    record MemberRole(String role) {}

    private final Teams teams;

    TeamApi(Teams teams) {
        this.teams = teams;
    }

    @GetMapping
    List<TeamView> list(@AuthenticationPrincipal Caller caller) {
        return teams.visibleTo(caller).stream().map(team -> view(caller, team)).toList();
    }

    @GetMapping("/{team}")
    TeamView show(@AuthenticationPrincipal Caller caller, @PathVariable String team) {
        return view(caller, teams.visible(caller, team));
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    TeamView create(@AuthenticationPrincipal Caller caller, @RequestBody NewTeam body) {
        String about = body.about() == null ? "" : body.about();
        return view(caller, teams.create(caller, body.name() == null ? "" : body.name(), about));
    }

    /** Says how long runs and logs of the team's jobs are kept. */
    @PutMapping("/{team}/keep")
    TeamView keep(@AuthenticationPrincipal Caller caller, @PathVariable String team, @RequestBody KeepBody body) {
        caller.require(Deed.MANAGE_MEMBERS, team);
        var problems = new ArrayList<Problem>();
        var retention = new Retention(length("runs", body.runs(), problems), length("logs", body.logs(), problems));
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return view(caller, teams.keep(caller, team, retention));
    }

    /** Lists the folders that work with files of the team's jobs may use. */
    @PutMapping("/{team}/folders")
    TeamView folders(@AuthenticationPrincipal Caller caller, @PathVariable String team, @RequestBody FoldersBody body) {
        return view(caller, teams.allow(caller, team, body.folders() == null ? List.of() : body.folders()));
    }

    private static Optional<Duration> length(String field, String text, List<Problem> problems) {
        if (text == null || text.isBlank()) {
            return Optional.empty();
        }
        Optional<Duration> length = Durations.parse(text).filter(found -> found.compareTo(Duration.ofSeconds(1)) >= 0);
        if (length.isEmpty()) {
            problems.add(Problem.of(field, "'" + text + "': a duration is expected, " + Durations.FORM));
        }
        return length;
    }

    @PutMapping("/{team}/members/{person}")
    TeamView setMember(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String team,
            @PathVariable String person,
            @RequestBody MemberRole body) {
        caller.require(Deed.MANAGE_MEMBERS, team);
        Role role = Role.of(String.valueOf(body.role()))
                .orElseThrow(() -> new InvalidException(
                        "role", "'" + body.role() + "': viewer, operator, editor or manager would be right"));
        teams.setRole(caller, team, person, role);
        return view(caller, teams.visible(caller, team));
    }

    @DeleteMapping("/{team}/members/{person}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void removeMember(@AuthenticationPrincipal Caller caller, @PathVariable String team, @PathVariable String person) {
        teams.removeMember(caller, team, person);
    }

    private TeamView view(Caller caller, Team team) {
        Map<String, String> members = teams.members(team).entrySet().stream()
                .collect(Collectors.toMap(
                        Map.Entry::getKey, entry -> entry.getValue().word(), (a, b) -> a, TreeMap::new));
        return new TeamView(
                team.name(),
                team.about(),
                members,
                caller.deedsIn(team.name()).stream().map(Deed::word).toList(),
                team.retention().equals(Retention.UNSAID)
                        ? null
                        : new KeepView(
                                team.retention().runs().orElse(null),
                                team.retention().logs().orElse(null)),
                team.folders().isEmpty() ? null : team.folders());
    }
}
