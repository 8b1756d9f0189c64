package org.gantrel.service.work;

import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import org.gantrel.core.action.Request;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.springframework.stereotype.Component;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Sends HTTP requests. Redirects are not followed: an address that moved is a thing to be told of. */
@Component
class RequestWork implements Performer<Request> {

    private static final int LONGEST_ANSWER = 50_000_000;
    private static final int LONGEST_SHOWN = 2_000;
    private static final JsonMapper JSON = JsonMapper.shared();

    /** Made when it is first needed: it takes its time, and a service that starts has none to spare. */
    private static final class Client {
        static final HttpClient SHARED =
                HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(10)).build();
    }

    /** An answer, its body read. */
    record Answer(int status, String body, byte[] bytes) {}

    @Override
    public Class<Request> type() {
        return Request.class;
    }

    @Override
    public Ending perform(Request request, Work work) throws Exception {
        work.say(request.method() + " " + request.address());
        Answer answer = send(request, work.actor(), work);
        work.say("answered " + answer.status() + ", " + answer.bytes().length + " bytes");
        if (!request.expects(answer.status())) {
            work.say(brief(answer.body()));
            return new Ending(
                    RunState.FAILED,
                    "answered " + answer.status() + ", expected " + String.join(" or ", request.expect()));
        }
        if (!request.saveTo().isEmpty()) {
            Files.write(work.output(request.saveTo()), answer.bytes());
            work.say("kept as " + request.saveTo());
        } else if (request.take().isEmpty()) {
            work.say(brief(answer.body()));
        }
        take(request, answer, work);
        return work.ending("answered " + answer.status());
    }

    private static void take(Request request, Answer answer, Work work) {
        if (request.take().isEmpty()) {
            return;
        }
        JsonNode body;
        try {
            body = JSON.readTree(answer.body());
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

    /** Sends a request as somebody, and waits for the answer. */
    Answer send(Request request, Optional<Credential> actor, Work work) throws IOException, InterruptedException {
        CompletableFuture<HttpResponse<InputStream>> sent =
                Client.SHARED.sendAsync(built(request, actor), HttpResponse.BodyHandlers.ofInputStream());
        work.onStop(() -> sent.cancel(true));
        try {
            HttpResponse<InputStream> response = sent.get();
            try (InputStream body = response.body()) {
                byte[] bytes = body.readNBytes(LONGEST_ANSWER + 1);
                if (bytes.length > LONGEST_ANSWER) {
                    throw new WorkFailed("the answer is longer than " + LONGEST_ANSWER + " bytes");
                }
                return new Answer(response.statusCode(), new String(bytes, StandardCharsets.UTF_8), bytes);
            }
        } catch (ExecutionException e) {
            throw new WorkFailed(why(request, e.getCause()));
        }
    }

    private static String why(Request request, Throwable cause) {
        String host = URI.create(request.address()).getAuthority();
        if (cause instanceof HttpTimeoutException) {
            return host + " did not answer within " + request.patience().toSeconds() + " s";
        }
        return cause instanceof ConnectException
                ? "nothing answers at " + host
                : host + " cannot be asked: " + cause.getMessage();
    }

    private static HttpRequest built(Request request, Optional<Credential> actor) {
        HttpRequest.Builder builder;
        try {
            builder = HttpRequest.newBuilder(URI.create(request.address())).timeout(request.patience());
            request.headers().forEach(builder::setHeader);
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
        switch (credential.kind()) {
            // RFC 7617 and RFC 6750
            case HTTP_BASIC ->
                builder.setHeader(
                        "Authorization",
                        "Basic "
                                + Base64.getEncoder()
                                        .encodeToString(Work.bytes(
                                                credential.fact("user") + ":" + credential.secret("password"))));
            case HTTP_BEARER -> builder.setHeader("Authorization", "Bearer " + credential.secret("token"));
            case HTTP_HEADER -> builder.setHeader(credential.fact("header"), credential.secret("value"));
            default ->
                throw new WorkFailed(
                        "a request cannot act as " + credential.kind().word());
        }
    }

    @Override
    public List<Rehearsed> rehearse(Request request, Optional<Credential> actor) {
        var found = new ArrayList<Rehearsed>();
        found.add(Rehearsed.does("request", request.method() + " " + request.address()));
        request.headers().forEach((name, value) -> found.add(Rehearsed.does("header", name + ": " + value)));
        if (!request.body().isEmpty()) {
            found.add(Rehearsed.does("body", brief(request.body())));
        }
        found.add(Rehearsed.does("expects", "status " + String.join(" or ", request.expect())));
        found.add(reach(request.address()));
        return found;
    }

    /** Whether the host of an address takes connections; nothing is asked of it. */
    static Rehearsed reach(String address) {
        try {
            URI uri = URI.create(address);
            int port = uri.getPort() > 0 ? uri.getPort() : "https".equalsIgnoreCase(uri.getScheme()) ? 443 : 80;
            return Reach.of(uri.getHost(), port);
        } catch (IllegalArgumentException e) {
            return Rehearsed.wrong("address", "'" + address + "' is no address: " + e.getMessage());
        }
    }

    private static String brief(String text) {
        return text.length() <= LONGEST_SHOWN ? text.stripTrailing() : text.substring(0, LONGEST_SHOWN) + " ...";
    }
}
