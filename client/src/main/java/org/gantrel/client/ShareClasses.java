package org.gantrel.client;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;

/**
 * Goes through what the usual commands go through, against a small server of its own, so that the classes they need can
 * be archived (JEP 350) and the commands start faster. Run when the client is built, never by its users.
 */
final class ShareClasses {

    private static final String RUNS =
            """
            [{"number":1,"job":"a","team":"b","state":"failed","cause":"schedule","causeRef":"c","took":"PT1M1S",
              "plannedAt":"2026-01-01T00:00:00Z","parameters":{},"message":"m"}]""";

    private ShareClasses() {}

    public static void main(String[] arguments) throws IOException {
        var server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", exchange -> {
            byte[] body =
                    (exchange.getRequestURI().getPath().endsWith("s") ? RUNS : "{}").getBytes(StandardCharsets.UTF_8);
            exchange.getResponseHeaders().add("Link", "<>; rel=\"last\"");
            exchange.sendResponseHeaders(exchange.getRequestURI().getPath().contains("gone") ? 404 : 200, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        server.start();
        String url = "http://127.0.0.1:" + server.getAddress().getPort();
        Gantrel.run("run", "list", "--url", url, "--since", "1d");
        Gantrel.run("run", "list", "--url", url, "--format", "json");
        Gantrel.run("run", "list", "--url", url, "--format", "csv");
        Gantrel.run("job", "list", "--url", url);
        Gantrel.run("job", "show", "a", "--url", url);
        Gantrel.run("job", "show", "gone", "--url", url);
        Gantrel.run("job", "start", "a", "-p", "b=c", "--url", url);
        Gantrel.run("run", "show", "1", "--url", url);
        Gantrel.run("status", "--url", url);
        Gantrel.run("when", "45 6 * * 1-5", "--zone", "Europe/Oslo", "--format", "json");
        Gantrel.run("--help");
        server.stop(0);
    }
}
