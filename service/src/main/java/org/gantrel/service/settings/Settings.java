package org.gantrel.service.settings;

import java.nio.file.Path;
import java.time.Duration;
import java.time.ZoneId;
import java.util.Optional;
import org.gantrel.core.job.Retention;
import org.gantrel.core.roster.Roster;

/**
 * How this installation is set up. Made once at the start from options, environment and {@code gantrel.yaml}.
 *
 * @param data the folder that holds the database, the key and the logs of runs
 * @param address the address that the service listens on
 * @param port the port; 0 lets the machine choose
 * @param url what links in mails begin with
 * @param zone whose days count for a start by hand of a job that has no schedule
 * @param keep how long things are kept where jobs and teams say nothing
 * @param runAs the account that commands run as whose jobs name nobody; nothing for the service's own
 * @param mail the server for mails; nothing where mails are to wait
 * @param demo the demo's world, which fills an empty database; nothing for real use
 */
public record Settings(
        Path data,
        String address,
        int port,
        String url,
        ZoneId zone,
        Limits limits,
        Keep keep,
        Optional<String> runAs,
        Optional<Mail> mail,
        Optional<Demo> demo) {

    /**
     * What bounds the work.
     *
     * @param runsAtOnce how many runs go at the same time
     * @param sweepRows how many rows a sweep takes at most
     * @param leastFreeSpace bytes that must be free for logs before a command starts
     * @param grace how late an occurrence may start and still be a start
     */
    public record Limits(int runsAtOnce, int sweepRows, long leastFreeSpace, Duration grace) {}

    /**
     * How long things are kept, where jobs and teams say nothing.
     *
     * @param runs what runs and their logs are kept; nothing in it for ever
     * @param events the journal
     * @param changes the audit record; nothing for ever
     */
    public record Keep(Retention runs, Duration events, Optional<Duration> changes) {
        static final Keep USUAL = new Keep(Retention.UNSAID, Duration.ofDays(90), Optional.empty());
    }

    /** A mail server. */
    public record Mail(String host, int port, String from, Encryption encryption, String user, String password) {

        /** How the connection to a mail server is protected. */
        public enum Encryption {
            NONE,
            STARTTLS,
            TLS
        }

        @Override
        public String toString() {
            return "mail server " + host + ":" + port;
        }
    }

    /**
     * A world to show the service with.
     *
     * @param folder holds {@code world.yaml} and {@code definitions/}
     * @param days how many days of history are made
     */
    public record Demo(Path folder, int days) {}

    public static final int USUAL_PORT = 8480;

    /** What holds where nothing else is said. */
    public static Settings usual(Path data) {
        return new Settings(
                data,
                "127.0.0.1",
                USUAL_PORT,
                "http://127.0.0.1:" + USUAL_PORT,
                ZoneId.systemDefault(),
                new Limits(16, Roster.MOST_ROWS, 20L << 20, Duration.ofMinutes(1)),
                Keep.USUAL,
                Optional.empty(),
                Optional.empty(),
                Optional.empty());
    }

    public Path databaseFile() {
        return data.resolve("gantrel");
    }

    public Path runsFolder() {
        return data.resolve("runs");
    }

    public Path keyFile() {
        return data.resolve("key");
    }

    /** Touched while the service lives, so that the next start knows since when it was down. */
    public Path heartbeatFile() {
        return data.resolve("heartbeat");
    }
}
