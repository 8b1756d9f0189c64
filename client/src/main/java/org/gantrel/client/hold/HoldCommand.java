package org.gantrel.client.hold;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Maintenance. */
@Command(
        name = "hold",
        description = "Holds: work that is not to start for a while, with who and why.",
        subcommands = {HoldCommand.Listing.class, HoldCommand.Lay.class, HoldCommand.End.class},
        footer = {
            "",
            "Examples:",
            "  gantrel hold lay --job settle-tickets --why 'the bank has maintenance' --until 2h",
            "  gantrel hold lay --service --from 2026-12-01T20:00:00Z --until 2026-12-01T22:00:00Z --why 'new disks'",
            "  gantrel hold list --job settle-tickets          what keeps it from starting",
            "  gantrel hold end 4"
        })
public final class HoldCommand extends NounCommand {

    @Command(name = "list", description = "Lists what is held, and what is to be.")
    static final class Listing extends ListCommand {

        @Option(names = "--ended", description = "Those that are over, too.")
        private boolean ended;

        @Option(names = "--job", paramLabel = "NAME", description = "Those that keep this job from starting.")
        private String job;

        @Option(names = "--limit", paramLabel = "N", defaultValue = "500", description = "At most so many (500).")
        private int limit;

        @Override
        public Integer call() {
            var asked = new LinkedHashMap<String, Object>();
            asked.put("ended", ended);
            asked.put("job", job);
            return print(
                    api().list("/api/v1/holds", asked, limit),
                    List.of(
                            Column.of("HOLD", "id"),
                            new Column("ON", row -> (row.path("on").asString() + " "
                                            + row.path("name").asString(""))
                                    .strip()),
                            new Column("NOW", row -> row.path("active").asBoolean() ? "yes" : "no"),
                            Column.time("FROM", "from"),
                            Column.time("UNTIL", "until"),
                            Column.of("DUE", "due"),
                            Column.of("RUNNING", "running"),
                            Column.of("BY", "person"),
                            Column.of("WHY", "why")),
                    "nothing is held");
        }
    }

    /** A hold in one line. */
    public static String line(JsonNode hold) {
        return (hold.path("active").asBoolean() ? "on hold: " : "to be held: ")
                + hold.path("words").asString()
                + (hold.path("active").asBoolean() ? "" : ", from " + Times.local(hold, "from"))
                + (hold.has("until") ? ", until " + Times.local(hold, "until") : "");
    }

    /** What a hold is laid on. */
    static final class On {
        @Option(names = "--job", paramLabel = "NAME", description = "A job.")
        private String job;

        @Option(names = "--team", paramLabel = "TEAM", description = "All jobs of a team.")
        private String team;

        @Option(names = "--lane", paramLabel = "NAME", description = "All that needs a lane.")
        private String lane;

        @Option(names = "--service", description = "Everything.")
        private boolean service;

        private String kind() {
            return job != null ? "job" : team != null ? "team" : lane != null ? "lane" : "service";
        }

        private String name() {
            return job != null ? job : team != null ? team : lane;
        }
    }

    @Command(
            name = "lay",
            description = "Holds a job, a team, a lane or everything, now or from a time on.",
            footer = {"", "Example:", "  gantrel hold lay --lane card-processor --why 'bank closed' --until 90m --skip"
            })
    static final class Lay extends ServiceCommand {

        @ArgGroup(multiplicity = "1")
        private On on;

        @Option(names = "--why", paramLabel = "TEXT", required = true, description = "Why; who wonders is told it.")
        private String why;

        @Option(
                names = "--from",
                paramLabel = "TIME",
                description = "From this instant or local time, or in so long, such as 2h (now).")
        private String from;

        @Option(
                names = "--until",
                paramLabel = "TIME",
                description = "Until this instant or local time, or for so long, such as 90m (until somebody ends it).")
        private String until;

        @Option(
                names = "--skip",
                description = "What comes due is skipped; it is kept and started afterwards otherwise.")
        private boolean skip;

        @Option(names = "--stop", description = "What is under way is stopped; it finishes otherwise.")
        private boolean stop;

        @Override
        public Integer call() {
            Instant begin = from == null ? null : Times.ahead(from, Instant.now());
            var body = new LinkedHashMap<String, Object>();
            body.put("on", on.kind());
            body.put("name", on.name());
            body.put("from", begin);
            body.put("until", until == null ? null : Times.ahead(until, begin == null ? Instant.now() : begin));
            body.put("due", skip ? "skip" : "keep");
            body.put("running", stop ? "stop" : "finish");
            body.put("why", why);
            body.values().removeIf(value -> value == null);
            body.replaceAll((key, value) -> value instanceof Instant ? value.toString() : value);
            JsonNode laid = api().post("/api/v1/holds", body);
            Printer.say("hold " + laid.path("id").asString() + " of "
                    + laid.path("words").asString()
                    + (laid.has("until") ? ", until " + Times.local(laid, "until") : "")
                    + "; 'gantrel hold end " + laid.path("id").asString() + "' ends it");
            return 0;
        }
    }

    @Command(name = "end", description = "Ends a hold; what was kept starts now.")
    static final class End extends ServiceCommand {

        @Parameters(paramLabel = "HOLD", description = "Its number, as 'gantrel hold list' says.")
        private long id;

        @Override
        public Integer call() {
            api().delete("/api/v1/holds/" + id);
            Printer.say("hold " + id + " is over");
            return 0;
        }
    }
}
