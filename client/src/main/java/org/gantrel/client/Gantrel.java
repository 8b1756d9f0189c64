package org.gantrel.client;

import java.io.IOException;
import java.io.UncheckedIOException;
import org.gantrel.client.api.Refused;
import org.gantrel.client.api.Unreachable;
import org.gantrel.client.calendar.CalendarCommand;
import org.gantrel.client.credential.CredentialCommand;
import org.gantrel.client.definition.DefinitionCommand;
import org.gantrel.client.event.BeatCommand;
import org.gantrel.client.event.EventCommand;
import org.gantrel.client.event.SilenceCommand;
import org.gantrel.client.event.TriggerCommand;
import org.gantrel.client.forecast.FeedCommand;
import org.gantrel.client.forecast.ForecastCommand;
import org.gantrel.client.hold.HoldCommand;
import org.gantrel.client.job.JobCommand;
import org.gantrel.client.lane.LaneCommand;
import org.gantrel.client.output.Printer;
import org.gantrel.client.roster.RosterCommand;
import org.gantrel.client.run.RunCommand;
import org.gantrel.client.schedule.ScheduleCommand;
import org.gantrel.client.starter.StarterCommand;
import org.gantrel.client.team.PersonCommand;
import org.gantrel.client.team.TeamCommand;
import org.gantrel.client.team.TokenCommand;
import org.gantrel.client.telling.ChannelCommand;
import org.gantrel.client.telling.DigestCommand;
import org.gantrel.client.telling.DutyCommand;
import org.gantrel.client.telling.FaultCommand;
import org.gantrel.client.telling.MeCommand;
import org.gantrel.client.telling.NotificationCommand;
import org.gantrel.client.telling.WordingCommand;
import org.gantrel.client.when.WhenCommand;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/**
 * The command {@code gantrel}. Data goes to standard output, messages to standard error. It exits with 0 when done, 1
 * where a run or a check ended badly, 2 for wrong usage, 3 when refused, 4 when not found or in conflict, 5 when no
 * service answers.
 */
@Command(
        name = "gantrel",
        description = "Jobs that start by themselves, watched by several teams.",
        synopsisSubcommandLabel = "COMMAND",
        subcommands = {
            LoginCommand.class,
            LogoutCommand.class,
            StatusCommand.class,
            ImportCommand.class,
            ExportCommand.class,
            DefinitionCommand.class,
            JobCommand.class,
            RunCommand.class,
            ScheduleCommand.class,
            CalendarCommand.class,
            CredentialCommand.class,
            RosterCommand.class,
            LaneCommand.class,
            HoldCommand.class,
            StarterCommand.class,
            ForecastCommand.class,
            FeedCommand.class,
            TeamCommand.class,
            PersonCommand.class,
            TokenCommand.class,
            ChangeCommand.class,
            TriggerCommand.class,
            EventCommand.class,
            SilenceCommand.class,
            BeatCommand.class,
            FaultCommand.class,
            NotificationCommand.class,
            DutyCommand.class,
            ChannelCommand.class,
            DigestCommand.class,
            WordingCommand.class,
            DeliveryCommand.class,
            MeCommand.class,
            AsideCommand.class,
            BackupCommand.class,
            KeepCommand.class,
            WhenCommand.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel serve --data /srv/gantrel        runs the service ('gantrel serve --help')",
            "  gantrel login --name mara.holt",
            "  gantrel import settle.yaml --dry-run",
            "  gantrel job start settle-tickets -p route=skarholm --wait",
            "  gantrel run list --since 1d --state failed",
            "",
            "Exit codes: 0 done, 1 the run ended badly, 2 wrong usage, 3 refused, 4 not found or conflict,",
            "5 service unreachable."
        })
public final class Gantrel implements Runnable {

    private static final int UNREACHABLE = 5;

    @Option(
            names = {"-h", "--help"},
            usageHelp = true,
            description = "Shows this help.")
    private boolean help;

    @CommandLine.Spec
    private CommandLine.Model.CommandSpec spec;

    @Override
    public void run() {
        throw new CommandLine.ParameterException(spec.commandLine(), "a command is missing");
    }

    public static void main(String[] arguments) {
        System.exit(run(arguments));
    }

    /** Runs a command line and returns its exit code. */
    public static int run(String... arguments) {
        return new CommandLine(new Gantrel())
                .setCaseInsensitiveEnumValuesAllowed(true)
                .setUsageHelpWidth(100)
                .registerConverter(long.class, text -> whole(text, 18))
                .registerConverter(Long.class, text -> whole(text, 18))
                .registerConverter(int.class, text -> (int) whole(text, 9))
                .registerConverter(Integer.class, text -> (int) whole(text, 9))
                .setExecutionExceptionHandler((thrown, line, parsed) -> exitCode(thrown))
                .execute(arguments);
    }

    private static long whole(String text, int digits) {
        if (!text.matches("-?\\d{1," + digits + "}")) {
            throw new CommandLine.TypeConversionException(
                    "'" + text + "' is no whole number of at most " + digits + " digits");
        }
        return Long.parseLong(text);
    }

    private static int exitCode(Exception thrown) throws Exception {
        if (thrown instanceof Refused refused) {
            refused.lines().forEach(line -> Printer.say("gantrel: " + line));
            return refused.exitCode();
        }
        if (thrown instanceof Unreachable) {
            Printer.say("gantrel: " + thrown.getMessage());
            return UNREACHABLE;
        }
        if (thrown instanceof Wrong) {
            Printer.say("gantrel: " + thrown.getMessage());
            return CommandLine.ExitCode.USAGE;
        }
        if (thrown instanceof IOException || thrown instanceof UncheckedIOException) {
            Printer.say("gantrel: " + thrown.getMessage());
            return 1;
        }
        throw thrown;
    }
}
