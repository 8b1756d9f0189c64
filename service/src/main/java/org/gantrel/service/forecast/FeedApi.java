package org.gantrel.service.forecast;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.text.Words;
import org.gantrel.icalendar.IcsWriter;
import org.gantrel.icalendar.IcsWriter.ComingRun;
import org.gantrel.service.change.Changes;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.secret.RandomToken;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Person;
import org.gantrel.service.team.Teams;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/**
 * Feeds of coming runs as iCalendar, which an ordinary calendar program subscribes to. A feed is found by a secret in its
 * address, since such programs cannot sign in, and shows what the person who made it may see at the time.
 */
@RestController
@RequestMapping("/api/v1/feeds")
@Transactional
class FeedApi {

    private static final Duration AHEAD = Duration.ofDays(31);
    private static final Duration SHORTEST = Duration.ofMinutes(1);
    private static final int MOST_FEEDS = 50;

    /** @param job one job alone; missing for all of the team, and a missing team means all teams */
    record FeedBody(String team, String job) {}

    /** @param address the path of the feed, shown once when it is made */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record FeedView(long id, String team, String job, Instant madeAt, String address) {}

    private final FeedStore store;
    private final Forecasts forecasts;
    private final Teams teams;
    private final Jobs jobs;
    private final Changes changes;
    private final Clock clock;

    FeedApi(FeedStore store, Forecasts forecasts, Teams teams, Jobs jobs, Changes changes, Clock clock) {
        this.store = store;
        this.forecasts = forecasts;
        this.teams = teams;
        this.jobs = jobs;
        this.changes = changes;
        this.clock = clock;
    }

    @GetMapping
    List<FeedView> list(@AuthenticationPrincipal Caller caller) {
        return store.findByPersonOrderById(person(caller)).stream()
                .map(feed -> view(feed, null))
                .toList();
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    FeedView create(@AuthenticationPrincipal Caller caller, @RequestBody FeedBody body) {
        String team =
                body.team() == null ? "" : teams.visible(caller, body.team()).name();
        String job = body.job() == null ? "" : jobs.visible(caller, body.job()).name();
        if (!team.isEmpty()) {
            caller.require(Deed.SEE_RUNS, team);
        }
        Person person = person(caller);
        if (store.findByPersonOrderById(person).size() >= MOST_FEEDS) {
            throw Refusal.conflict("you have " + MOST_FEEDS + " feeds already; delete one first");
        }
        String token = RandomToken.make("gf_");
        Feed feed = store.save(new Feed(person, RandomToken.hash(token), team, job, clock.instant()));
        changes.record(caller, "created", "feed", about(feed), team, "");
        return view(feed, "/api/v1/feeds/" + token + "/ics");
    }

    @DeleteMapping("/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void delete(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        Feed feed = store.findByPersonOrderById(person(caller)).stream()
                .filter(mine -> mine.id() == id)
                .findFirst()
                .orElseThrow(() -> Refusal.notFound("you have no feed " + id));
        store.delete(feed);
        changes.record(caller, "deleted", "feed", about(feed), feed.team(), "");
    }

    /** The coming runs of the next month. Whoever knows the address may read it. */
    @GetMapping(path = "/{token}/ics", produces = "text/calendar")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<String> read(@PathVariable String token) {
        Feed feed = store.findByHash(RandomToken.hash(token))
                .filter(found -> !found.person().isShut())
                .orElseThrow(() -> Refusal.notFound("there is no such feed"));
        Instant now = clock.instant();
        Forecast forecast = forecasts.between(
                teams.caller(feed.person()), now, now.plus(AHEAD), some(feed.team()), some(feed.job()), List.of());
        List<ComingRun> runs = forecast.starts().stream().map(FeedApi::run).toList();
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType("text/calendar;charset=UTF-8"))
                .body(IcsWriter.runs("Gantrel: " + about(feed), runs));
    }

    private static ComingRun run(Forecast.ComingStart start) {
        Duration length = Optional.ofNullable(start.usual())
                .filter(usual -> usual.compareTo(SHORTEST) > 0)
                .orElse(SHORTEST);
        String usually = start.usual() == null ? "" : ", usually takes " + Words.duration(start.usual());
        return new ComingRun(
                start.job() + "-" + start.schedule() + "-" + start.at().getEpochSecond(),
                start.at(),
                length,
                start.job(),
                "schedule " + start.schedule() + " of team " + start.team() + usually);
    }

    private Person person(Caller caller) {
        return teams.person(caller.name()).orElseThrow();
    }

    private static Optional<String> some(String text) {
        return text.isEmpty() ? Optional.empty() : Optional.of(text);
    }

    private static String about(Feed feed) {
        return !feed.job().isEmpty() ? feed.job() : feed.team().isEmpty() ? "all teams" : feed.team();
    }

    private static FeedView view(Feed feed, String address) {
        return new FeedView(
                feed.id(), some(feed.team()).orElse(null), some(feed.job()).orElse(null), feed.madeAt(), address);
    }
}
