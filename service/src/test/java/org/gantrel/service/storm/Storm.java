package org.gantrel.service.storm;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.List;
import java.util.Map;
import java.util.Queue;
import java.util.Random;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.gantrel.service.LiveService;
import org.gantrel.service.team.Teams;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** People who change whatever there is, all at the same time, while others look at it; each chooses by a seed. */
final class Storm {

    private static final HttpClient HTTP = HttpClient.newHttpClient();
    private static final JsonMapper JSON = JsonMapper.shared();
    private static final List<String> CALENDARS = List.of("open", "quays");
    private static final List<String> LANES = List.of("narrow", "wide");
    private static final List<String> JOBS = List.of("counts", "prints", "sends");
    private static final String MARA = "mara.holt";
    private static final String PASSWORD = "correct-horse-9";

    /** Where one looks; what is said there does not depend on how long the service has been there. */
    static final List<String> PAGES = Stream.of(
                    Stream.of("calendars", "lanes", "rosters", "tellings", "schedules", "triggers", "teams", "people"),
                    Stream.of("holds?ended=true", "deadlines", "faults", "approvals", "silences"),
                    Stream.of(
                            "forecast",
                            "board?from=2026-11-24T00:00:00Z&until=2026-11-25T00:00:00Z",
                            "today",
                            "me/telling"),
                    Stream.of("rosters/routes", "rosters/routes/rows", "tellings/notification/failures"),
                    Stream.of("tellings/duty/desk", "teams/revenue", "teams/quayside", "runs?limit=100"),
                    CALENDARS.stream()
                            .flatMap(name -> Stream.of("calendars/" + name, "calendars/" + name + "/years/2026")),
                    LANES.stream().map(name -> "lanes/" + name),
                    Stream.concat(JOBS.stream(), Stream.of("night"))
                            .flatMap(name -> Stream.of(
                                    "jobs/" + name,
                                    "jobs/" + name + "/told",
                                    "holds?job=" + name,
                                    "jobs/" + name + "/schedules/daily/why?at=2026-11-24T04:00:00Z")))
            .flatMap(each -> each)
            .toList();

    /** Somebody who has signed in, and calls the API. */
    static final class Person {
        private final String base;
        private final String token;

        private Person(String base, String token) {
            this.base = base;
            this.token = token;
        }

        /** A new administrator. */
        static Person administrator(LiveService service, String name) {
            service.bean(Teams.class).createPerson(LiveService.SERVICE, name, "", PASSWORD, true);
            return signedIn(service, name);
        }

        static Person signedIn(LiveService service, String name) {
            String base = "http://127.0.0.1:" + service.port() + "/api/v1/";
            var nobody = new Person(base, "");
            HttpResponse<String> answer =
                    nobody.call("POST", "sessions", Map.of("name", name, "password", PASSWORD, "token", "storm"));
            return new Person(base, JSON.readTree(answer.body()).path("token").asString());
        }

        HttpResponse<String> bringIn(String text) {
            return call("POST", "imports", Map.of("files", List.of(Map.of("name", "storm.yaml", "text", text))));
        }

        void mustBringIn(String text) {
            HttpResponse<String> answer = bringIn(text);
            if (answer.statusCode() != 200) {
                throw new AssertionError(answer.body());
            }
        }

        /** Which revision of something one looks at. */
        String tag(String page) {
            return call("GET", page, null).headers().firstValue("ETag").orElseThrow();
        }

        /** Edits a revision; says what the answer's status is. */
        int edit(String page, String tag, Object body) {
            return call("PUT", page, body, "If-Match", tag).statusCode();
        }

        HttpResponse<String> call(String method, String page, Object body, String... headers) {
            var request = HttpRequest.newBuilder(URI.create(base + page))
                    .header("Content-Type", "application/json")
                    .method(
                            method,
                            body == null
                                    ? BodyPublishers.noBody()
                                    : BodyPublishers.ofString(JSON.writeValueAsString(body)));
            if (headers.length > 0) {
                request.headers(headers);
            }
            if (!token.isEmpty()) {
                request.header("Authorization", "Bearer " + token);
            }
            try {
                return HTTP.send(request.build(), BodyHandlers.ofString());
            } catch (IOException | InterruptedException e) {
                throw new AssertionError(method + " " + page, e);
            }
        }
    }

    private final LiveService service;
    private final Queue<String> wrong = new ConcurrentLinkedQueue<>();
    private final AtomicInteger made = new AtomicInteger();
    private Person mara;

    Storm(LiveService service) {
        this.service = service;
    }

    /** What is there before it. */
    void prepare() {
        Teams teams = service.bean(Teams.class);
        teams.create(LiveService.SERVICE, "quayside", "");
        teams.createPerson(LiveService.SERVICE, MARA, "", PASSWORD, true);
        teams.createPerson(LiveService.SERVICE, "ivo.brandt", "", PASSWORD, false);
        signIn();
        var random = new Random(0);
        CALENDARS.forEach(name -> mara.mustBringIn(calendar(name, random)));
        LANES.forEach(name -> mara.mustBringIn(lane(name, random)));
        mara.mustBringIn(roster(random));
        JOBS.forEach(name -> mara.mustBringIn("task: " + name + "\nteam: revenue\ndoes: { command: [ \"true\" ] }\n"));
        // which has no gates: those are looked at every so often, and may have seen what is no longer so
        mara.mustBringIn("task: bells\nteam: revenue\ndoes: { command: [ \"true\" ] }\n");
        mara.mustBringIn(chain(random));
        JOBS.forEach(name -> mara.mustBringIn(task(name, random).replace("team: quayside", "team: revenue")));
        mara.mustBringIn(duty(random) + "---\n" + rule(random));
    }

    void signIn() {
        mara = Person.signedIn(service, MARA);
    }

    /** How many changes were made. */
    int made() {
        return made.get();
    }

    /** What went wrong that must not, whatever one asks. */
    List<String> wrong() {
        return List.copyOf(wrong);
    }

    /** Looks at every page. */
    Map<String, JsonNode> look() {
        return PAGES.stream().collect(Collectors.toMap(page -> page, this::page));
    }

    private JsonNode page(String page) {
        HttpResponse<String> answer = call("GET", page, null);
        return answer.body().isEmpty() ? JSON.readTree("{}") : JSON.readTree(answer.body());
    }

    /** Somebody looks here and there. */
    void looks(Random random, int times) {
        IntStream.range(0, times).forEach(i -> call("GET", PAGES.get(random.nextInt(PAGES.size())), null));
    }

    /** Somebody changes this and that. */
    void changes(Random random, int times) {
        IntStream.range(0, times).forEach(i -> change(random));
    }

    private void change(Random random) {
        String job = any(JOBS, random);
        String lane = any(LANES, random);
        switch (random.nextInt(20)) {
            case 0, 1, 2 -> bringIn(calendar(any(CALENDARS, random), random));
            case 3, 4, 5 -> bringIn(task(job, random));
            case 6 -> bringIn(chain(random));
            case 7 -> bringIn(lane(lane, random));
            case 8 -> bringIn(roster(random));
            case 9 -> bringIn(rule(random));
            case 10 -> bringIn(duty(random));
            case 11 -> call("PUT", "lanes/" + lane + "/width", Map.of("width", 1 + random.nextInt(4)));
            case 12 ->
                call(random.nextBoolean() ? "PUT" : "DELETE", "lanes/" + lane + "/closure", Map.of("why", "tide"));
            case 13 -> call("PUT", "jobs/" + job + "/schedules/daily/switch", Map.of("on", random.nextInt(3) > 0));
            case 14 -> call("PUT", "triggers/" + job + "/after/switch", Map.of("on", random.nextBoolean()));
            case 15 -> call("POST", "holds", Map.of("on", "job", "name", job, "why", "quay " + random.nextInt(9)));
            case 16 -> call("DELETE", "holds/" + (1 + random.nextInt(8)), null);
            case 17 ->
                call(
                        "PUT",
                        "teams/quayside/members/ivo.brandt",
                        Map.of("role", random.nextBoolean() ? "viewer" : "manager"));
            case 18 -> call("POST", "jobs/bells/runs", Map.of());
            // together, or not at all: the last of them is wrong
            default ->
                bringIn(calendar(any(CALENDARS, random), random)
                        + "---\n" + roster(random)
                        + "---\n" + task(job, random)
                        + (random.nextBoolean()
                                ? "---\ntask: none\nteam: nobody\ndoes: { command: [ \"true\" ] }\n"
                                : ""));
        }
    }

    private static String calendar(String name, Random random) {
        String except = name.equals("quays") && random.nextBoolean() ? "except: [ open ]\n" : "";
        String closed = IntStream.rangeClosed(23, 30)
                .filter(day -> random.nextInt(3) == 0)
                .mapToObj(day -> "{ on: 2026-11-" + day + " }")
                .collect(Collectors.joining(", "));
        return "calendar: " + name + "\nteam: revenue\ndays: weekdays\n" + except
                + (closed.isEmpty() ? "" : "closed: [ " + closed + " ]\n");
    }

    private static String lane(String name, Random random) {
        return "lane: " + name + "\nteam: revenue\nwidth: " + (1 + random.nextInt(3)) + "\nabout: n"
                + random.nextInt(99) + (random.nextBoolean() ? "\nfor-teams: [ quayside ]\n" : "\n");
    }

    private static String roster(Random random) {
        String rows = IntStream.rangeClosed(0, random.nextInt(3))
                .mapToObj(i -> "{ route: r" + random.nextInt(9) + " }")
                .collect(Collectors.joining(", "));
        return "roster: routes\nteam: revenue\ncolumns: [ route ]\nrows: [ " + rows + " ]\nat-once: "
                + (1 + random.nextInt(4)) + "\n";
    }

    private static String task(String name, Random random) {
        String days = random.nextBoolean() ? any(CALENDARS, random) : "open";
        return """
                task: %s
                team: %s
                about: n%d
                parameters: { route: { type: text, default: far } }
                does: { command: [ "true" ] }
                priority: %d
                lanes: [ %s ]
                gates: [ { calendar: %s }, { between: "00:00", and: "%02d:00" } ]
                schedules: [ { name: daily, when: "every working day at %02d:%02d", zone: UTC, calendar: %s, deadline: "%02d:00" } ]
                triggers: [ { name: after, on: run.ended, of: night, when: "event.exit_code == %d" } ]
                """
                .formatted(
                        name,
                        random.nextInt(5) == 0 ? "quayside" : "revenue",
                        random.nextInt(99),
                        1 + random.nextInt(9),
                        any(LANES, random),
                        any(CALENDARS, random),
                        20 + random.nextInt(3),
                        2 + random.nextInt(6),
                        random.nextInt(60),
                        days,
                        10 + random.nextInt(9),
                        random.nextInt(9));
    }

    private static String chain(Random random) {
        return "chain: night\nteam: revenue\nabout: n" + random.nextInt(99) + "\nsteps:\n"
                + JOBS.stream()
                        .filter(name -> random.nextInt(4) > 0)
                        .map(name -> "  - { step: " + name + ", job: " + name + " }\n")
                        .collect(Collectors.joining())
                + "  - { step: last, job: counts, when: \"true\" }\n"
                + "schedules: [ { name: daily, when: every day at 0" + (3 + random.nextInt(5))
                + ":30, zone: UTC, calendar: " + any(CALENDARS, random) + " } ]\n";
    }

    private static String rule(Random random) {
        return "notification: failures\nteam: revenue\nfor: { jobs: [ " + any(JOBS, random) + " ] }\nto: [ "
                + (random.nextBoolean() ? "{ duty: desk }" : "{ person: mara.holt }") + " ]\nremind: "
                + (1 + random.nextInt(5)) + " h\n";
    }

    private static String duty(Random random) {
        return "duty: desk\nteam: revenue\nzone: UTC\nfrom: 2026-11-02\nhandover: monday at 0" + (5 + random.nextInt(4))
                + ":00\nturns: [ mara.holt, ivo.brandt ]\n";
    }

    private void bringIn(String text) {
        checked("an import of " + text, mara.bringIn(text));
    }

    private HttpResponse<String> call(String method, String page, Object body) {
        return checked(method + " " + page + " " + body, mara.call(method, page, body));
    }

    /** What is there before or not, and what two want at once, is to be refused as such. */
    private HttpResponse<String> checked(String what, HttpResponse<String> answer) {
        if (answer.statusCode() < 300 && !what.startsWith("GET")) {
            made.incrementAndGet();
        }
        if (answer.statusCode() >= 400 && !List.of(404, 409, 422).contains(answer.statusCode())) {
            wrong.add(what + ": " + answer.statusCode() + " " + answer.body());
        }
        return answer;
    }

    private static String any(List<String> of, Random random) {
        return of.get(random.nextInt(of.size()));
    }
}
