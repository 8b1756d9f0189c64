package org.gantrel.acceptance;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;

/** A repository made by git(1), with one working tree in which commits are made. */
final class GitRepository {

    private final Path folder;

    GitRepository() throws IOException {
        folder = Files.createTempDirectory("repository");
        git("init", "-q", "-b", "main");
    }

    Path folder() {
        return folder;
    }

    /** Runs git(1) there, with no settings but its own. */
    String git(String... arguments) {
        try {
            var line = new ArrayList<>(List.of("git", "-c", "user.name=Crew", "-c", "user.email=crew@example.org"));
            line.addAll(List.of(arguments));
            var builder = new ProcessBuilder(line).directory(folder.toFile()).redirectErrorStream(true);
            builder.environment().putAll(Map.of("GIT_CONFIG_GLOBAL", "/dev/null", "GIT_CONFIG_SYSTEM", "/dev/null"));
            Process process = builder.start();
            String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8).strip();
            if (process.waitFor() != 0) {
                throw new AssertionError(line + ": " + said);
            }
            return said;
        } catch (IOException e) {
            throw new AssertionError(e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new AssertionError(e);
        }
    }

    /** Writes a file, a program where it begins as one, and commits it; gives the commit. */
    String commit(String path, String text) throws IOException {
        Path file = folder.resolve(path);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
        file.toFile().setExecutable(text.startsWith("#!"), false);
        git("add", "-A");
        git("commit", "-q", "-m", "Change " + path);
        return git("rev-parse", "HEAD");
    }

    /** Serves it over HTTP by git-http-backend(1), to one who knows a password; counts what is asked. */
    HttpServer serve(String user, String password, AtomicInteger asked) throws IOException {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        String known =
                "Basic " + Base64.getEncoder().encodeToString((user + ":" + password).getBytes(StandardCharsets.UTF_8));
        server.setExecutor(Executors.newCachedThreadPool());
        server.createContext("/", exchange -> {
            try (exchange) {
                asked.incrementAndGet();
                if (!known.equals(exchange.getRequestHeaders().getFirst("Authorization"))) {
                    exchange.getResponseHeaders().set("WWW-Authenticate", "Basic realm=\"crew\"");
                    exchange.sendResponseHeaders(401, -1);
                } else {
                    pass(exchange);
                }
            }
        });
        server.start();
        return server;
    }

    /** As RFC 3875 says. */
    private void pass(HttpExchange exchange) throws IOException {
        var builder = new ProcessBuilder("git", "http-backend").redirectError(ProcessBuilder.Redirect.DISCARD);
        Map<String, String> environment = builder.environment();
        environment.put("GIT_PROJECT_ROOT", folder.resolve(".git").toString());
        environment.put("GIT_HTTP_EXPORT_ALL", "1");
        environment.put("GIT_CONFIG_COUNT", "1");
        environment.put("GIT_CONFIG_KEY_0", "safe.directory");
        environment.put("GIT_CONFIG_VALUE_0", "*");
        environment.put("PATH_INFO", exchange.getRequestURI().getPath().replaceFirst("^/crew.git", ""));
        String query = exchange.getRequestURI().getQuery();
        environment.put("QUERY_STRING", query == null ? "" : query);
        environment.put("REQUEST_METHOD", exchange.getRequestMethod());
        header(exchange, "Content-Type", environment, "CONTENT_TYPE");
        header(exchange, "Content-Encoding", environment, "HTTP_CONTENT_ENCODING");
        header(exchange, "Git-Protocol", environment, "HTTP_GIT_PROTOCOL");
        byte[] body = exchange.getRequestBody().readAllBytes();
        environment.put("CONTENT_LENGTH", String.valueOf(body.length));
        Process process = builder.start();
        process.getOutputStream().write(body);
        process.getOutputStream().close();
        byte[] answer = process.getInputStream().readAllBytes();
        int end = new String(answer, StandardCharsets.ISO_8859_1).indexOf("\r\n\r\n");
        int status = 200;
        for (String line : new String(answer, 0, end, StandardCharsets.ISO_8859_1).split("\r\n")) {
            String[] parts = line.split(": ", 2);
            if (parts[0].equals("Status")) {
                status = Integer.parseInt(parts[1].substring(0, 3));
            } else {
                exchange.getResponseHeaders().set(parts[0], parts[1]);
            }
        }
        var rest = new ByteArrayOutputStream();
        rest.write(answer, end + 4, answer.length - end - 4);
        exchange.sendResponseHeaders(status, rest.size() == 0 ? -1 : rest.size());
        exchange.getResponseBody().write(rest.toByteArray());
    }

    private static void header(HttpExchange exchange, String name, Map<String, String> environment, String variable) {
        String value = exchange.getRequestHeaders().getFirst(name);
        if (value != null) {
            environment.put(variable, value);
        }
    }
}
