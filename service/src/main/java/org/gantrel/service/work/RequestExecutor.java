package org.gantrel.service.work;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.ConnectException;
import java.net.ProxySelector;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.cert.X509Certificate;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Stream;
import javax.net.ssl.SSLPeerUnverifiedException;
import org.gantrel.core.action.Request;
import org.gantrel.core.action.Sql;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.TlsTrouble;
import org.gantrel.core.text.Words;
import org.gantrel.service.durable.RoomToKeep;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.remote.Tunnel;
import org.gantrel.service.remote.Tunnels;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Sends HTTP requests. Redirects are not followed: an address that moved is a thing to be told of. */
@Component
class RequestExecutor implements ActionExecutor<Request> {

    private static final long LONGEST_ANSWER = 500_000_000;
    private static final Logger LOG = LoggerFactory.getLogger(RequestExecutor.class);
    private static final int CHUNK = 16_384;
    private static final int BAD_GATEWAY = 502;
    private static final int LONGEST_SHOWN = 2_000;
    private static final JsonMapper JSON = JsonMapper.shared();

    /** Made when it is first needed: it takes its time, and a service that starts has none to spare. */
    private static final class Client {
        static final HttpClient SHARED =
                HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(10)).build();
    }

    private final Destinations destinations;

    private final Databases databases;
    private final Tunnels tunnels;
    private final RoomToKeep room;

    RequestExecutor(Destinations destinations, Databases databases, Tunnels tunnels, RoomToKeep room) {
        this.room = room;
        this.tunnels = tunnels;
        this.databases = databases;
        this.destinations = destinations;
    }

    @Override
    public Class<Request> type() {
        return Request.class;
    }

    @Override
    public Ending perform(Request request, Execution work) throws Exception {
        work.say(request.method() + " " + request.address());
        try (HttpAnswer answer = send(request, work.actor(), work)) {
            work.say("answered " + answer.status() + ", " + Words.count(answer.bytes(), "byte"));
            if (!request.expects(answer.status())) {
                work.say(answer.beginning(LONGEST_SHOWN));
                return new Ending(
                        RunState.FAILED,
                        "answered " + answer.status() + ", expected " + String.join(" or ", request.expect()));
            }
            take(request, answer, work);
            if (request.toTable().isPresent()) {
                return load(request.toTable().get(), answer, work);
            }
            if (!request.saveTo().isEmpty()) {
                answer.moveTo(work.output(request.saveTo()));
                work.say("kept as " + request.saveTo());
            } else if (request.take().isEmpty()) {
                work.say(answer.beginning(LONGEST_SHOWN));
            }
            return work.ending("answered " + answer.status());
        }
    }

    private Ending load(Sql.ToTable table, HttpAnswer answer, Execution work) throws IOException, SQLException {
        TableLoad.Rows rows;
        try {
            rows = new JsonAnswer(answer.text()).rows(table.rows());
        } catch (JacksonException e) {
            throw new WorkFailed("the answer is no JSON, so no rows can be taken from it: " + e.getOriginalMessage());
        }
        try (Connection target =
                databases.connect(work.credential(table.database()).orElseThrow(), work)) {
            target.setAutoCommit(false);
            TableLoad.Loaded loaded = TableLoad.load(rows, target, table);
            target.commit();
            SqlExecutor.results(loaded, work);
            work.say(loaded.words(table.table()));
            return work.ending("answered " + answer.status() + ", " + loaded.words(table.table()));
        }
    }

    private static void take(Request request, HttpAnswer answer, Execution work) throws IOException {
        if (request.take().isEmpty()) {
            return;
        }
        JsonAnswer body;
        try {
            body = new JsonAnswer(answer.text());
        } catch (JacksonException e) {
            throw new WorkFailed("the answer is no JSON, so no values can be taken from it: " + e.getOriginalMessage());
        }
        request.take().forEach((name, pointer) -> {
            JsonNode found = body.at(pointer);
            if (found.isMissingNode()) {
                throw new WorkFailed("the answer has nothing at " + pointer + ", where " + name + " is expected");
            }
            String value = found.isValueNode() ? found.asString() : found.toString();
            work.result(name, value);
            work.say(name + " = " + value);
        });
    }

    /** Sends a request as somebody from another host, and waits for the answer. */
    HttpAnswer sendFrom(Credential host, Request request, Optional<Credential> actor, Execution work)
            throws IOException, InterruptedException {
        HttpRequest built = built(request, actor);
        destinations.checkFromElsewhere(built.uri());
        boolean tls = "https".equalsIgnoreCase(built.uri().getScheme());
        int port = built.uri().getPort() > 0 ? built.uri().getPort() : tls ? 443 : 80;
        try (Tunnel tunnel = tunnels.through(host, built.uri().getHost(), port)) {
            HttpClient client = HttpClient.newBuilder()
                    .connectTimeout(request.patience())
                    // the stand-in for the other host speaks the version that can be passed on as it is
                    .version(HttpClient.Version.HTTP_1_1)
                    .proxy(ProxySelector.of(tunnel.entrance()))
                    .build();
            HttpAnswer answer = send(client, built, request, work);
            if (answer.status() == BAD_GATEWAY && answer.headers().map().size() <= 1) {
                answer.close();
                throw new WorkFailed("nothing answers at " + host(request) + " from " + host.fact("host"));
            }
            return answer;
        }
    }

    /** Sends a request as somebody, and waits for the answer. */
    HttpAnswer send(Request request, Optional<Credential> actor, Execution work)
            throws IOException, InterruptedException {
        HttpRequest built = built(request, actor);
        return send(Client.SHARED, destinations.way(built.uri()).lead(built), request, work);
    }

    private HttpAnswer send(HttpClient client, HttpRequest built, Request request, Execution work)
            throws IOException, InterruptedException {
        assert Transactions.none() : "another system is asked in a transaction";
        CompletableFuture<HttpResponse<InputStream>> sent =
                client.sendAsync(built, HttpResponse.BodyHandlers.ofInputStream());
        work.onStop(() -> sent.cancel(true));
        try {
            HttpResponse<InputStream> response = sent.get();
            return new HttpAnswer(
                    response.statusCode(),
                    response.headers(),
                    certificate(response),
                    received(request, response, work));
        } catch (ExecutionException e) {
            throw new WorkFailed(why(request, e.getCause()));
        }
    }

    private static Optional<Instant> certificate(HttpResponse<InputStream> response) {
        return response.sslSession().flatMap(session -> {
            try {
                return session.getPeerCertificates()[0] instanceof X509Certificate certificate
                        ? Optional.of(certificate.getNotAfter().toInstant())
                        : Optional.empty();
            } catch (SSLPeerUnverifiedException e) {
                return Optional.empty();
            }
        });
    }

    /** The value at a pointer (RFC 6901) in a JSON text, as a text. */
    static String at(String json, String pointer) {
        JsonNode found;
        try {
            found = new JsonAnswer(json).at(pointer);
        } catch (JacksonException e) {
            throw new WorkFailed("the answer is no JSON: " + e.getOriginalMessage());
        }
        if (found.isMissingNode()) {
            throw new WorkFailed("the answer has nothing at " + pointer);
        }
        return found.isValueNode() ? found.asString() : found.toString();
    }

    /** Takes the body in, however slowly it comes, for as long as there is patience. */
    private Path received(Request request, HttpResponse<InputStream> response, Execution work) throws IOException {
        Path file = work.scratch();
        InputStream body = response.body();
        work.onStop(() -> close(body));
        var tooLate = new AtomicBoolean();
        CompletableFuture<Void> late = CompletableFuture.runAsync(
                () -> {
                    tooLate.set(true);
                    close(body);
                },
                CompletableFuture.delayedExecutor(request.patience().toMillis(), TimeUnit.MILLISECONDS));
        try (body;
                OutputStream kept = room.open(file)) {
            copy(body, kept);
            return file;
        } catch (IOException | WorkFailed e) {
            Files.deleteIfExists(file);
            if (tooLate.get()) {
                throw new WorkFailed(host(request) + " did not end its answer within "
                        + request.patience().toSeconds() + " s");
            }
            throw e;
        } finally {
            late.cancel(false);
        }
    }

    private static void copy(InputStream body, OutputStream kept) throws IOException {
        byte[] chunk = new byte[CHUNK];
        long bytes = 0;
        for (int read = body.read(chunk); read >= 0; read = body.read(chunk)) {
            bytes += read;
            if (bytes > LONGEST_ANSWER) {
                throw new WorkFailed("the answer is longer than " + LONGEST_ANSWER + " bytes");
            }
            kept.write(chunk, 0, read);
        }
    }

    private static void close(InputStream body) {
        try {
            body.close();
        } catch (IOException e) {
            LOG.debug("an answer that is not wanted any more: {}", e.getMessage());
        }
    }

    private static String host(Request request) {
        return URI.create(request.address()).getAuthority();
    }

    private static String why(Request request, Throwable cause) {
        String host = host(request);
        if (cause instanceof HttpTimeoutException) {
            return host + " did not answer within " + request.patience().toSeconds() + " s";
        }
        return cause instanceof ConnectException
                ? "nothing answers at " + host
                : TlsTrouble.of(cause)
                        .map(trouble -> host + " " + trouble)
                        .orElse(host + " cannot be asked: " + cause.getMessage());
    }

    /** Headers are written in ASCII (RFC 9110, 5.5); the client would send a question mark for anything else. */
    private static String plain(String name, String value) {
        Optional<String> other = value.codePoints()
                .filter(letter -> letter > '~')
                .mapToObj("U+%04X"::formatted)
                .findFirst();
        if (other.isPresent()) {
            throw new WorkFailed("the header " + name + " holds the character " + other.get()
                    + ", and headers are written in ASCII");
        }
        return value;
    }

    private static HttpRequest built(Request request, Optional<Credential> actor) {
        HttpRequest.Builder builder;
        try {
            // letters that its author wrote as they are
            String ascii = URI.create(request.address()).toASCIIString();
            builder = HttpRequest.newBuilder(URI.create(ascii)).timeout(request.patience());
            request.headers().forEach((name, value) -> builder.setHeader(name, plain(name, value)));
        } catch (IllegalArgumentException e) {
            throw new WorkFailed("'" + request.address() + "' cannot be asked: " + e.getMessage());
        }
        actor.ifPresent(credential -> identify(builder, credential));
        return builder.method(
                        request.method(),
                        request.body().isEmpty()
                                ? HttpRequest.BodyPublishers.noBody()
                                : HttpRequest.BodyPublishers.ofString(request.body()))
                .build();
    }

    private static void identify(HttpRequest.Builder builder, Credential credential) {
        Map<String, String> headers = credential.httpHeaders();
        if (headers.isEmpty()) {
            throw new WorkFailed("a request cannot act as " + credential.kind().word());
        }
        headers.forEach((name, value) -> builder.setHeader(name, plain(name, value)));
    }

    @Override
    public List<Rehearsed> rehearse(Request request, Rehearsing around) {
        var found = new ArrayList<Rehearsed>();
        found.add(Rehearsed.does("request", request.method() + " " + request.address()));
        request.headers().forEach((name, value) -> found.add(Rehearsed.does("header", name + ": " + value)));
        if (!request.body().isEmpty()) {
            found.add(Rehearsed.does("body", request.body()));
            notJson(request).ifPresent(why -> found.add(Rehearsed.wrong("body", why)));
        }
        found.add(Rehearsed.does("expects", "status " + String.join(" or ", request.expect())));
        found.addAll(reach(request.address()));
        request.toTable().ifPresent(table -> found.add(hasTable(table, around)));
        return found;
    }

    private Rehearsed hasTable(Sql.ToTable table, Rehearsing around) {
        String title = "table " + table.table();
        List<String> columns = Stream.concat(table.columns().keySet().stream(), table.key().stream())
                .distinct()
                .toList();
        try (Connection target =
                databases.connect(around.credential(table.database()).orElseThrow())) {
            return SqlExecutor.tableHas(target, table, columns.isEmpty() ? List.of("1") : columns, title);
        } catch (SQLException | WorkFailed | Refusal e) {
            return Rehearsed.wrong(title, e.getMessage());
        }
    }

    private static Optional<String> notJson(Request request) {
        try {
            if (request.sendsJson()) {
                JSON.readTree(request.body());
            }
            return Optional.empty();
        } catch (JacksonException e) {
            return Optional.of("is no JSON: " + e.getOriginalMessage());
        }
    }

    /** Whether the host of an address takes connections; nothing is asked of it. */
    List<Rehearsed> reach(String address) {
        try {
            URI uri = URI.create(address);
            destinations.check(uri);
            int port = uri.getPort() > 0 ? uri.getPort() : "https".equalsIgnoreCase(uri.getScheme()) ? 443 : 80;
            Rehearsed reached = Reach.of(uri.getHost(), port);
            return reached.kind() == Rehearsed.Kind.WRONG
                    ? List.of(reached)
                    : List.of(
                            reached,
                            Rehearsed.untried("answer", "nothing is asked of " + uri.getHost() + " in a rehearsal"));
        } catch (WorkFailed e) {
            return List.of(Rehearsed.wrong("address", e.getMessage()));
        } catch (IllegalArgumentException e) {
            return List.of(Rehearsed.wrong("address", "'" + address + "' is no address: " + e.getMessage()));
        }
    }
}
