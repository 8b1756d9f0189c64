package org.gantrel.client.telling;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.ShowCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** How somebody is told, and what they were told. */
@Command(
        name = "me",
        description = "How you are told, and what you were told.",
        subcommands = {
            MeCommand.Show.class,
            MeCommand.Set.class,
            MeCommand.Follow.class,
            MeCommand.Mute.class,
            MeCommand.Forget.class,
            MeCommand.BellCommand.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel me set --mail mara.holt@lowmarsh.example.org --zone Europe/Oslo --quiet 22:00-07:00",
            "  gantrel me mute archive-manifests --until 2026-12-01T08:00+01:00",
            "  gantrel me follow night-close"
        })
public final class MeCommand extends NounCommand {

    private static final String PATH = "/api/v1/me/";

    @Command(name = "show", description = "Shows how you are told.")
    static final class Show extends ShowCommand {

        @Override
        protected String path() {
            return PATH + "telling";
        }

        @Override
        protected void show(JsonNode say) {
            String from = say.path("quietFrom").asString();
            String until = say.path("quietUntil").asString();
            String mail = say.path("mail").asString();
            String calendar = say.path("calendar").asString();
            printer.line("mails      " + (mail.isEmpty() ? "go nowhere; the console alone tells" : "to " + mail));
            printer.line("zone       " + say.path("zone").asString());
            printer.line("quiet      " + (from.equals(until) ? "never" : from + " to " + until));
            printer.line("work days  " + (calendar.isEmpty() ? "every day" : calendar));
            printer.line("wakes      what is " + say.path("wakes").asString() + " or more");
            say.path("jobs")
                    .forEach(job -> printer.line((job.path("follows").asBoolean() ? "follows    " : "mutes      ")
                            + job.path("job").asString()
                            + (job.has("until") ? " until " + Times.local(job, "until") : "")));
        }
    }

    @Command(name = "set", description = "Says how you are told; what is not named stays as it is.")
    static final class Set extends ServiceCommand {

        @Option(names = "--mail", paramLabel = "ADDRESS", description = "Where mails go; '' for nowhere.")
        private String mail;

        @Option(names = "--zone", paramLabel = "ZONE", description = "Where you are, such as Europe/Oslo.")
        private String zone;

        @Option(
                names = "--quiet",
                paramLabel = "HH:MM-HH:MM",
                description = "When not to disturb you; never for no such time.")
        private String quiet;

        @Option(
                names = "--calendar",
                paramLabel = "CALENDAR",
                description = "The days on which you work; '' for every day.")
        private String calendar;

        @Option(
                names = "--wakes",
                paramLabel = "URGENCY",
                description = "What comes through in quiet hours: calm, usual or urgent.")
        private String wakes;

        @Override
        public Integer call() {
            JsonNode now = api().get(PATH + "telling");
            Map<String, Object> say = new LinkedHashMap<>();
            say.put("mail", mail != null ? mail : now.path("mail").asString());
            say.put("zone", zone != null ? zone : now.path("zone").asString());
            say.put(
                    "calendar",
                    calendar != null ? calendar : now.path("calendar").asString());
            say.put("wakes", wakes != null ? wakes : now.path("wakes").asString());
            String[] hours = quiet == null
                    ? new String[] {
                        now.path("quietFrom").asString(), now.path("quietUntil").asString()
                    }
                    : quiet.equals("never") ? new String[] {"00:00", "00:00"} : quiet.split("-", 2);
            say.put("quietFrom", hours[0]);
            say.put("quietUntil", hours.length == 2 ? hours[1] : hours[0] + " to when?");
            api().put(PATH + "telling", say);
            Printer.say("noted");
            return 0;
        }
    }

    /** Follows or mutes a job. */
    abstract static class Interest extends ServiceCommand {

        @Parameters(paramLabel = "JOB", description = "The job.")
        private String job;

        @Option(
                names = "--until",
                paramLabel = "TIME",
                description = "Until when, or for how long, such as 2d; until it is taken back where left out.")
        private String until;

        abstract boolean follows();

        @Override
        public Integer call() {
            Map<String, Object> body = new LinkedHashMap<>();
            body.put("follows", follows());
            if (until != null) {
                body.put("until", Times.ahead(until, Instant.now()).toString());
            }
            api().put(PATH + "jobs/" + Api.encode(job), body);
            Printer.say((follows() ? "you are told of " : "you are not told of ") + job + "; 'gantrel me forget " + job
                    + "' takes that back");
            return 0;
        }
    }

    @Command(name = "follow", description = "Has you be told of a job whatever the rules say.")
    static final class Follow extends Interest {
        @Override
        boolean follows() {
            return true;
        }
    }

    @Command(name = "mute", description = "Keeps you from being told of a job.")
    static final class Mute extends Interest {
        @Override
        boolean follows() {
            return false;
        }
    }

    @Command(name = "forget", description = "Takes back that you follow or mute a job.")
    static final class Forget extends ServiceCommand {

        @Parameters(paramLabel = "JOB", description = "The job.")
        private String job;

        @Override
        public Integer call() {
            api().delete(PATH + "jobs/" + Api.encode(job));
            Printer.say("the rules alone say whether you are told of " + job);
            return 0;
        }
    }

    @Command(name = "bell", description = "Lists what you were told, newest first.")
    static final class BellCommand extends ListCommand {

        @Option(names = "--seen", description = "Notes that you have seen all of it.")
        private boolean seen;

        @Override
        public Integer call() {
            JsonNode bell = seen ? api().post(PATH + "bell/seen", Map.of()) : api().get(PATH + "bell");
            List<JsonNode> rows = new ArrayList<>();
            bell.path("messages").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.time("AT", "at"),
                            Column.of("KIND", "kind"),
                            Column.of("WHAT", "subject"),
                            Column.of("FAULT", "fault"),
                            new Column("SEEN", row -> row.path("seen").asBoolean() ? "yes" : "no")),
                    "you were told nothing yet");
        }
    }
}
