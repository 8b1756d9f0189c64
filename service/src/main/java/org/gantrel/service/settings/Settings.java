package org.gantrel.service.settings;

import java.nio.file.Path;
import java.time.Duration;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.backup.BackupPlan;
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
 * @param reach what work may ask on the network
 * @param web how the service is reached by browsers and programs
 * @param mail the server for mails; nothing where mails are to wait
 * @param backup where the database is backed up to; nothing where it is not
 * @param demo the demo's world, which fills an empty database; nothing for real use
 * @param said where each setting was said that somebody has said: an option, the environment or the file
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
        Reach reach,
        Web web,
        Optional<Mail> mail,
        Optional<Backup> backup,
        Optional<Demo> demo,
        Map<String, String> said) {

    /**
     * What bounds the work.
     *
     * @param runsAtOnce how many runs go at the same time
     * @param sweepRows how many rows a sweep takes at most
     * @param leastFreeSpace bytes that must be free for logs before a command starts
     * @param largestLog bytes that a run's log may take on the disk
     * @param grace how late an occurrence may start and still be a start
     */
    public record Limits(int runsAtOnce, int sweepRows, long leastFreeSpace, long largestLog, Duration grace) {}

    /**
     * How long things are kept, where jobs and teams say nothing.
     *
     * @param runs what runs and their logs are kept; nothing in it for ever
     * @param events the journal
     * @param ofTypes events of some types, by the type or by what it begins with and a star, such as {@code signin.*}
     * @param changes the audit record; nothing for ever
     */
    public record Keep(Retention runs, Duration events, Map<String, Duration> ofTypes, Optional<Duration> changes) {
        static final Keep USUAL = new Keep(Retention.UNSAID, Duration.ofDays(90), Map.of(), Optional.empty());
    }

    /**
     * What work may ask on the network.
     *
     * @param databases what addresses of databases may begin with, beside those of H2's and PostgreSQL's servers
     * @param allow networks and hosts that requests may go to; empty for all that are not denied
     * @param deny networks and hosts that no request goes to, beside those that never are asked
     */
    public record Reach(List<String> databases, List<String> allow, List<String> deny) {
        public static final Reach USUAL = new Reach(List.of(), List.of(), List.of());
    }

    /**
     * How the service is reached.
     *
     * @param trustedProxies the addresses of proxies whose word is taken for where a call comes from, and whether by TLS
     * @param tlsCertificate the chain of certificates in PEM, for TLS by the service itself
     * @param tlsKey its private key in PEM
     */
    public record Web(List<String> trustedProxies, Optional<Path> tlsCertificate, Optional<Path> tlsKey) {
        public static final Web USUAL = new Web(List.of(), Optional.empty(), Optional.empty());
    }

    /**
     * A mail server.
     *
     * @param spares others, as {@code HOST:PORT}, that are asked in turn where nobody answers at the one before
     */
    public record Mail(
            String host,
            int port,
            String from,
            Encryption encryption,
            String user,
            String password,
            List<String> spares) {

        public Mail {
            spares = List.copyOf(spares);
        }

        /** This server and its spares, each by itself. */
        public List<Mail> all() {
            return Stream.concat(Stream.of(host + ":" + port), spares.stream())
                    .map(place -> {
                        int colon = place.lastIndexOf(':');
                        int at = Integer.parseInt(place.substring(colon + 1));
                        return new Mail(place.substring(0, colon), at, from, encryption, user, password, List.of());
                    })
                    .toList();
        }

        /** How the connection to a mail server is protected. */
        public enum Encryption {
            NONE,
            STARTTLS,
            TLS
        }

        @Override
        public String toString() {
            return "mail server " + host + ":" + port
                    + (spares.isEmpty() ? "" : ", or else " + String.join(", ", spares));
        }
    }

    /** Where backups go, and when. */
    public record Backup(Path folder, BackupPlan plan) {}

    /**
     * A world to show the service with.
     *
     * @param folder holds {@code world.yaml} and {@code definitions/}
     * @param days how many days of history are made
     */
    public record Demo(Path folder, int days) {}

    public static final int USUAL_PORT = 8480;

    /** An address and a port as they stand in a URL (RFC 3986, 3.2.2). */
    public static String place(String address, int port) {
        boolean bare = address.contains(":") && !address.startsWith("[");
        return (bare ? "[" + address + "]" : address) + ":" + port;
    }

    /** What holds where nothing else is said. */
    public static Settings usual(Path data) {
        return new Settings(
                data,
                "127.0.0.1",
                USUAL_PORT,
                "http://127.0.0.1:" + USUAL_PORT,
                ZoneId.systemDefault(),
                new Limits(16, Roster.MOST_ROWS, 20L << 20, 1L << 30, Duration.ofMinutes(1)),
                Keep.USUAL,
                Optional.empty(),
                Reach.USUAL,
                Web.USUAL,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Map.of());
    }

    /** The folders that are the service's alone. */
    public Path[] ownFolders() {
        return backup.map(to -> new Path[] {data, to.folder()}).orElseGet(() -> new Path[] {data});
    }

    public Path databaseFile() {
        return data.resolve("gantrel");
    }

    public Path runsFolder() {
        return data.resolve("runs");
    }

    /** What the service's own database is opened with. */
    public Path databasePasswordFile() {
        return data.resolve("database-password");
    }

    public Path keyFile() {
        return data.resolve("key");
    }

    /** Lies in a data folder that was filled from a backup, until the service has started on it. */
    public Path putBackFile() {
        return data.resolve("put-back");
    }

    /** Touched while the service lives, so that the next start knows since when it was down. */
    public Path heartbeatFile() {
        return data.resolve("heartbeat");
    }
}
