package org.gantrel.client;

import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Function;

/** Answers the command as a service would, and keeps what was asked, what the command printed, and what it said on its error stream. */
final class StubService implements AutoCloseable {

    record Answer(int status, String body, String link) {
        static Answer fine(String body) {
            return new Answer(200, body, "");
        }
    }

    private final List<String> asked = new ArrayList<>();
    private final ByteArrayOutputStream said = new ByteArrayOutputStream();
    private final ByteArrayOutputStream printed = new ByteArrayOutputStream();
    private final PrintStream error = System.err;
    private final PrintStream output = System.out;
    private final HttpServer server;

    StubService(Function<String, Answer> answers) {
        try {
            server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        server.createContext("/", exchange -> {
            String path = exchange.getRequestURI().toString();
            String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            asked.add(exchange.getRequestMethod() + " " + path + (body.isEmpty() ? "" : " " + body));
            Answer answer = answers.apply(path);
            if (!answer.link().isEmpty()) {
                exchange.getResponseHeaders().add("Link", answer.link());
            }
            byte[] bytes = answer.body().getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(answer.status(), bytes.length == 0 ? -1 : bytes.length);
            exchange.getResponseBody().write(bytes);
            exchange.close();
        });
        server.start();
        System.setErr(new PrintStream(said, true, StandardCharsets.UTF_8));
        System.setOut(new PrintStream(printed, true, StandardCharsets.UTF_8));
    }

    /** One that answers by the beginning of the path, the first that fits, and else with an empty list. */
    static StubService by(Map<String, String> answers) {
        return new StubService(path -> answers.entrySet().stream()
                .filter(answer -> path.startsWith(answer.getKey()))
                .findFirst()
                .map(answer -> Answer.fine(answer.getValue()))
                .orElse(Answer.fine("[]")));
    }

    int gantrel(String... arguments) {
        var line = new ArrayList<>(List.of(arguments));
        int end = line.contains("--") ? line.indexOf("--") : line.size();
        line.addAll(
                end, List.of("--url", "http://127.0.0.1:" + server.getAddress().getPort()));
        return Gantrel.run(line.toArray(String[]::new));
    }

    List<String> asked() {
        return asked;
    }

    String said() {
        return said.toString(StandardCharsets.UTF_8);
    }

    /** What it printed. */
    String printed() {
        return printed.toString(StandardCharsets.UTF_8);
    }

    @Override
    public void close() {
        server.stop(0);
        System.setErr(error);
        System.setOut(output);
    }
}
