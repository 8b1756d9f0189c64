package org.gantrel.bench;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import tools.jackson.databind.JsonNode;

/** What it costs to tell people: many rules, many messages, and a mail server that takes nothing. */
final class TellBench {

    private static final int RUNS = 1_500;
    private static final int RULES = 1_000;
    private static final int FAILING = 200;
    private static final int ADDRESSES = 50;
    private static final int STARTS = 200;

    private TellBench() {}

    static void run(Path data) throws IOException, InterruptedException {
        Path file = Files.writeString(Files.createDirectories(data).resolve("there"), "x");
        try (var sink = new Sink();
                Program service = Program.start(
                        data.resolve("service"),
                        "--runs-at-once",
                        "16",
                        "--mail-host",
                        "127.0.0.1",
                        "--mail-port",
                        String.valueOf(sink.port()),
                        "--mail-from",
                        "bench@example.org")) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            define(service, check("work", file));
            rules(service);
            messages(service, sink, data);
            waiting(service, sink, data);
            stalled(service, sink, data);
        }
    }

    private static String check(String name, Path file) {
        return "task: " + name + "\nteam: bench\nwhile-running: 100\ndoes: { checks: [ { name: there, file: " + file
                + " } ] }\n";
    }

    private static void define(Program service, String text) throws IOException, InterruptedException {
        service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b.yaml", "text", text))));
    }

    private static void rules(Program service) throws IOException, InterruptedException {
        runs(service, "work", RUNS);
        double without = runs(service, "work", RUNS);
        define(
                service,
                IntStream.range(0, RULES)
                        .mapToObj(i -> "notification: rule-" + i + "\nteam: bench\nfor: { jobs: [ \"job-" + i
                                + "\", \"night-" + i + "-*\" ] }\nto: [ a" + i + "@example.org ]\n")
                        .collect(Collectors.joining("---\n")));
        double with = runs(service, "work", RUNS);
        Bench.line(
                "a finished run with " + RULES + " rules about other jobs",
                "%.2f ms more".formatted(1_000 * (with - without) / RUNS),
                "%.2f ms a run without".formatted(1_000 * without / RUNS),
                with / without,
                "under 1 ms more");
    }

    /** Seconds until all runs have ended. */
    private static double runs(Program service, String job, int many) throws IOException, InterruptedException {
        long begin = System.nanoTime();
        for (int i = 0; i < many; i++) {
            service.call("POST", "/api/v1/jobs/" + job + "/runs", Map.of());
        }
        while (!service.call("GET", "/api/v1/runs?job=" + job + "&state=waiting,running&limit=1", null)
                .isEmpty()) {
            Thread.sleep(20);
        }
        return (System.nanoTime() - begin) / 1e9;
    }

    private static String storm(Path data, String prefix) {
        String to = IntStream.range(0, ADDRESSES)
                .mapToObj(i -> prefix + i + "@example.org")
                .collect(Collectors.joining(", "));
        return "notification: " + prefix + "\nteam: bench\nfor: { jobs: [ \"" + prefix + "-*\" ] }\nto: [ " + to
                + " ]\nurgency: urgent\n"
                + IntStream.range(0, FAILING)
                        .mapToObj(i -> "---\n" + check(prefix + "-" + i, data.resolve("not-there")))
                        .collect(Collectors.joining());
    }

    private static void fail(Program service, String prefix) throws IOException, InterruptedException {
        for (int i = 0; i < FAILING; i++) {
            service.call("POST", "/api/v1/jobs/" + prefix + "-" + i + "/runs", Map.of());
        }
    }

    /** From the first message that the other side takes to the last. */
    private static void messages(Program service, Sink sink, Path data) throws IOException, InterruptedException {
        int all = FAILING * ADDRESSES;
        double raw = plain(sink, all / 10);
        define(service, storm(data, "storm"));
        sink.forget();
        fail(service, "storm");
        while (sink.taken() == 0) {
            Thread.sleep(10);
        }
        long begin = System.nanoTime();
        while (sink.taken() < all) {
            Thread.sleep(20);
        }
        say("", all / ((System.nanoTime() - begin) / 1e9), raw);
    }

    /** From when the other side takes mails again to the last of those that wait. */
    private static void waiting(Program service, Sink sink, Path data) throws IOException, InterruptedException {
        int all = FAILING * ADDRESSES;
        double raw = plain(sink, all / 10);
        define(service, storm(data, "waiting"));
        sink.forget();
        sink.stall(true);
        fail(service, "waiting");
        quiet(service);
        long begin = System.nanoTime();
        sink.stall(false);
        while (sink.taken() < all) {
            Thread.sleep(20);
        }
        say(" that waited", all / ((System.nanoTime() - begin) / 1e9), raw);
    }

    private static void say(String which, double rate, double raw) {
        Bench.line(
                FAILING * ADDRESSES + " mails about " + FAILING + " faults" + which,
                "%.0f a second".formatted(rate),
                "%.0f a second by one plain client, a connection each".formatted(raw),
                rate / raw,
                "at the rate that the other side takes them");
    }

    /** Mails a second by one client that does nothing else. */
    private static double plain(Sink sink, int mails) throws IOException {
        String mail = "From: bench@example.org\r\nSubject: a run failed\r\n\r\n" + "x".repeat(4_000) + "\r\n";
        long began = System.nanoTime();
        for (int i = 0; i < mails; i++) {
            sink.sendTo(mail);
        }
        return mails / ((System.nanoTime() - began) / 1e9);
    }

    /** Waits until the service has nothing more to do. */
    private static void quiet(Program service) throws IOException, InterruptedException {
        double busy = service.cpuSeconds();
        Thread.sleep(5_000);
        while (service.cpuSeconds() - busy > 0.5) {
            busy = service.cpuSeconds();
            Thread.sleep(5_000);
        }
    }

    /** How long a start by hand waits for its beginning, before and while the mail server takes no mail to its end. */
    private static void stalled(Program service, Sink sink, Path data) throws IOException, InterruptedException {
        List<Double> before = starts(service);
        define(service, storm(data, "stalled"));
        sink.stall(true);
        fail(service, "stalled");
        // what is measured is the waiting, not that so many messages are written down
        quiet(service);
        List<Double> during = starts(service);
        Bench.line(
                "a start's lag while the mail server stalls and 10,000 mails wait, median and p99",
                Bench.millis(Bench.percentile(during, 50)) + ", " + Bench.millis(Bench.percentile(during, 99)),
                Bench.millis(Bench.percentile(before, 50)) + ", " + Bench.millis(Bench.percentile(before, 99))
                        + " without",
                Bench.percentile(during, 50) / Bench.percentile(before, 50),
                "nothing measurable");
    }

    private static List<Double> starts(Program service) throws IOException, InterruptedException {
        var lags = new ArrayList<Double>();
        for (int i = 0; i < STARTS; i++) {
            long number = service.call("POST", "/api/v1/jobs/work/runs", Map.of())
                    .path("number")
                    .asLong();
            JsonNode run = service.call("GET", "/api/v1/runs/" + number, null);
            while (!run.has("finishedAt")) {
                Thread.sleep(5);
                run = service.call("GET", "/api/v1/runs/" + number, null);
            }
            lags.add((double) Duration.between(
                            Instant.parse(run.path("queuedAt").asString()),
                            Instant.parse(run.path("startedAt").asString()))
                    .toNanos());
        }
        return lags;
    }

    /** A server that speaks as much SMTP (RFC 5321) as is needed to take mails, and counts them. */
    private static final class Sink implements AutoCloseable {

        private final ServerSocket entrance = new ServerSocket(0, 500, InetAddress.getLoopbackAddress());
        private final AtomicInteger taken = new AtomicInteger();
        private boolean stalls;

        Sink() throws IOException {
            var thread = new Thread(this::accept, "sink");
            thread.setDaemon(true);
            thread.start();
        }

        int port() {
            return entrance.getLocalPort();
        }

        int taken() {
            return taken.get();
        }

        void forget() {
            taken.set(0);
        }

        /** @param stalls whether a mail's last line is answered only when this is over */
        synchronized void stall(boolean stalls) {
            this.stalls = stalls;
            notifyAll();
        }

        private synchronized void awaitTaking() throws InterruptedException {
            while (stalls) {
                wait();
            }
        }

        private void accept() {
            while (!entrance.isClosed()) {
                try {
                    Socket socket = entrance.accept();
                    var thread = new Thread(() -> serve(socket), "sink-of-one");
                    thread.setDaemon(true);
                    thread.start();
                } catch (IOException e) {
                    return;
                }
            }
        }

        private void serve(Socket socket) {
            try (socket) {
                socket.setTcpNoDelay(true);
                var in = new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8));
                OutputStream out = socket.getOutputStream();
                say(out, "220 sink");
                boolean data = false;
                for (String line = in.readLine(); line != null; line = in.readLine()) {
                    if (data) {
                        if (line.equals(".")) {
                            awaitTaking();
                            data = false;
                            taken.incrementAndGet();
                            say(out, "250 taken");
                        }
                    } else if (line.startsWith("DATA")) {
                        data = true;
                        say(out, "354 go on");
                    } else if (line.startsWith("QUIT")) {
                        say(out, "221 bye");
                        return;
                    } else {
                        say(out, "250 fine");
                    }
                }
            } catch (IOException | InterruptedException e) {
                // the other side went away
                return;
            }
        }

        private static void say(OutputStream out, String line) throws IOException {
            out.write((line + "\r\n").getBytes(StandardCharsets.UTF_8));
            out.flush();
        }

        /** Sends it one mail, as a client does that opens a connection for each. */
        void sendTo(String mail) throws IOException {
            try (var socket = new Socket(InetAddress.getLoopbackAddress(), port())) {
                socket.setTcpNoDelay(true);
                var in = new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8));
                OutputStream out = socket.getOutputStream();
                in.readLine();
                for (String line : List.of(
                        "EHLO bench",
                        "MAIL FROM:<bench@example.org>",
                        "RCPT TO:<a@example.org>",
                        "DATA",
                        mail + ".",
                        "QUIT")) {
                    say(out, line);
                    in.readLine();
                }
            }
        }

        @Override
        public void close() throws IOException {
            entrance.close();
        }
    }
}
