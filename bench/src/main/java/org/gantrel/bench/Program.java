package org.gantrel.bench;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A service under measurement, as its users start it. */
final class Program implements AutoCloseable {

    static final Path ROOT = Path.of(System.getProperty("gantrel.root", "."));
    static final JsonMapper JSON = new JsonMapper();

    private static final Pattern LISTENS = Pattern.compile("listens on (http://\\S+)");
    private static final HttpClient HTTP = HttpClient.newHttpClient();
    static final String PASSWORD = "lowmarsh-demo";

    private final Process process;
    private final String url;
    private final double startNanos;
    private String token = "";

    private Program(Process process, String url, double startNanos) {
        this.process = process;
        this.url = url;
        this.startNanos = startNanos;
    }

    static Program start(Path data, String... options) throws IOException, InterruptedException {
        Path log = Files.createTempFile("serve", ".log");
        var line = new ArrayList<>(
                List.of(ROOT.resolve("bin/gantrel").toString(), "serve", "--data", data.toString(), "--port", "0"));
        line.addAll(List.of(options));
        var builder = new ProcessBuilder(line).redirectErrorStream(true).redirectOutput(log.toFile());
        builder.environment().put("GANTREL_ADMIN_PASSWORD", PASSWORD);
        long begin = System.nanoTime();
        Process process = builder.start();
        Matcher listens = LISTENS.matcher(Files.readString(log));
        while (!listens.find()) {
            if (!process.isAlive()) {
                throw new IOException("the service ended: " + Files.readString(log));
            }
            Thread.sleep(10);
            listens = LISTENS.matcher(Files.readString(log));
        }
        var program = new Program(process, listens.group(1), System.nanoTime() - begin);
        program.signIn("admin", PASSWORD);
        return program;
    }

    /** Has all further calls made as somebody. */
    void signIn(String name, String password) throws IOException, InterruptedException {
        token = call("POST", "/api/v1/sessions", Map.of("name", name, "password", password, "token", "bench"))
                .path("token")
                .asString();
    }

    double startNanos() {
        return startNanos;
    }

    String url() {
        return url;
    }

    String token() {
        return token;
    }

    /** Resident memory in bytes (proc(5), VmRSS of status). */
    long residentBytes() throws IOException {
        return Files.readAllLines(Path.of("/proc", String.valueOf(process.pid()), "status")).stream()
                .filter(line -> line.startsWith("VmRSS:"))
                .mapToLong(line -> Long.parseLong(line.replaceAll("\\D", "")) * 1024)
                .findFirst()
                .orElseThrow();
    }

    /** Bytes of the heap that are live: what is used after a collection. */
    long heapBytes() throws IOException, InterruptedException {
        jcmd("GC.run");
        Matcher used = Pattern.compile("generation.*used (\\d+)K").matcher(jcmd("GC.heap_info"));
        long bytes = 0;
        while (used.find()) {
            bytes += Long.parseLong(used.group(1)) * 1024;
        }
        return bytes;
    }

    /** Processor time that the service has taken so far, in seconds (proc(5), utime and stime of stat). */
    double cpuSeconds() throws IOException {
        String stat = Files.readString(Path.of("/proc", String.valueOf(process.pid()), "stat"));
        String[] fields = stat.substring(stat.lastIndexOf(')') + 2).split(" ");
        return (Long.parseLong(fields[11]) + Long.parseLong(fields[12])) / 100.0;
    }

    private String jcmd(String command) throws IOException, InterruptedException {
        String program = Path.of(System.getProperty("java.home"), "bin", "jcmd").toString();
        Process asked = new ProcessBuilder(program, String.valueOf(process.pid()), command).start();
        String said = new String(asked.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        asked.waitFor();
        return said;
    }

    /** What a call answers, as text. */
    String text(String path) throws IOException, InterruptedException {
        return HTTP.send(
                        HttpRequest.newBuilder(URI.create(url + path))
                                .header("Authorization", "Bearer " + token)
                                .build(),
                        BodyHandlers.ofString())
                .body();
    }

    JsonNode call(String method, String path, Object body) throws IOException, InterruptedException {
        var request = HttpRequest.newBuilder(URI.create(url + path))
                .header("Authorization", "Bearer " + token)
                .header("Content-Type", "application/json")
                .method(
                        method,
                        body == null
                                ? BodyPublishers.noBody()
                                : BodyPublishers.ofString(JSON.writeValueAsString(body)));
        var answer = HTTP.send(request.build(), BodyHandlers.ofString());
        if (answer.statusCode() >= 400) {
            throw new IOException(path + ": " + answer.body());
        }
        return answer.body().isEmpty() ? JSON.missingNode() : JSON.readTree(answer.body());
    }

    @Override
    public void close() {
        process.destroy();
        process.onExit().join();
    }
}
