package org.gantrel.acceptance;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.databind.JsonNode;

/** A service as a real process on the loopback address, with a data folder of its own. */
final class Service implements AutoCloseable {

    static final String PASSWORD = "correct-horse-9";

    /** It lives for a minute: code that is compiled quickly beats code that is compiled well. */
    private static final String BRIEF = "-XX:TieredStopAtLevel=1";

    private static final Pattern LISTENS = Pattern.compile("listens on (https?://127\\.0\\.0\\.1:(\\d+))");

    private final Path data;
    private final List<String> prefix;
    private final List<String> options;
    private Path log;
    private Process process;
    private volatile String url;
    private String port = "0";

    private Service(Path data, List<String> prefix, List<String> options) {
        this.data = data;
        this.prefix = prefix;
        this.options = options;
    }

    /** Starts a service in an empty folder and waits until it is ready. */
    static Service fresh(String... options) {
        try {
            var service = new Service(Files.createTempDirectory("gantrel"), List.of(), List.of(options));
            service.start();
            return service;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The same in a folder that is there, and at an address that it keeps when it begins again by itself. */
    static Service in(Path folder) throws IOException {
        var service = new Service(folder, List.of(), List.of());
        try (ServerSocket free = new ServerSocket(0)) {
            service.port = String.valueOf(free.getLocalPort());
        }
        service.start();
        return service;
    }

    /** The same with something before its command. */
    static Service under(List<String> prefix) throws IOException {
        var service = new Service(Files.createTempDirectory("gantrel"), prefix, List.of());
        service.start();
        return service;
    }

    /** The same with the rights of an account of this host. */
    static Service as(String account) throws IOException {
        Path data = Files.createTempDirectory("gantrel");
        Files.setOwner(
                data, data.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName(account));
        var service = new Service(
                data, List.of("setpriv", "--reuid=" + account, "--regid=" + account, "--init-groups", "--"), List.of());
        service.start();
        return service;
    }

    /** Starts it again on the same data. */
    void start() throws IOException {
        log = Files.createTempFile("serve", ".log");
        var line = new ArrayList<>(List.of("gantrel", "serve", "--data", data.toString(), "--port", port));
        line.addAll(options);
        ProcessBuilder program = Shell.program(
                Map.of("GANTREL_ADMIN_PASSWORD", PASSWORD, "GANTREL_JAVA_OPTIONS", BRIEF), line.toArray(String[]::new));
        program.command().addAll(0, prefix);
        process = program.redirectErrorStream(true).redirectOutput(log.toFile()).start();
        Await.until("the service listens", () -> {
            if (!process.isAlive()) {
                throw new AssertionError("the service ended: " + said());
            }
            Matcher listens = LISTENS.matcher(said());
            if (listens.find()) {
                url = listens.group(1);
            }
            return url != null;
        });
    }

    /** As after a power cut, to be started again at the same address, as whoever looks at a page expects it. */
    void killForAWhile() throws InterruptedException {
        port = url.substring(url.lastIndexOf(':') + 1);
        kill();
    }

    /** Ends it as a power cut would. */
    void kill() throws InterruptedException {
        process.destroyForcibly().waitFor();
        url = null;
    }

    /** Asks it to stop, as Ctrl-C does. */
    void stop() throws InterruptedException {
        process.destroy();
        if (!process.waitFor(Await.PATIENCE.toSeconds(), TimeUnit.SECONDS)) {
            throw new AssertionError("the service did not stop: " + said());
        }
        url = null;
    }

    Path data() {
        return data;
    }

    String url() {
        return url;
    }

    String said() {
        try {
            return Files.readString(log);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The API as somebody; the account must be there. */
    Http as(String name, String password) {
        return Http.signedIn(url, name, password);
    }

    Http admin() {
        return as("admin", PASSWORD);
    }

    /** The command line, signed in by a token. */
    Shell.Result gantrel(String token, String... arguments) {
        var environment = new HashMap<String, String>();
        // nobody answers at the address of a service that is away
        environment.put("GANTREL_URL", url == null ? "http://127.0.0.1:9" : url);
        environment.put("GANTREL_TOKEN", token);
        environment.put("TZ", "Europe/Oslo");
        environment.put("XDG_STATE_HOME", data.resolve("state-of-the-client").toString());
        var line = new ArrayList<>(List.of("gantrel"));
        line.addAll(List.of(arguments));
        return Shell.run(environment, "", line.toArray(String[]::new));
    }

    /** Waits until a run has ended, and returns it. */
    JsonNode ended(Http http, long number) {
        Await.until(
                "run " + number + " has ended",
                () -> http.get("/api/v1/runs/" + number).body().has("finishedAt"));
        return http.get("/api/v1/runs/" + number).body();
    }

    @Override
    public void close() {
        process.destroyForcibly();
    }
}
