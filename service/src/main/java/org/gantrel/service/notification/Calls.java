package org.gantrel.service.notification;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.notification.Channel;
import org.gantrel.core.text.TlsTrouble;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.execution.ShortCommand;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.run.Run;
import org.gantrel.service.secret.Hmac;
import org.gantrel.service.telling.Mustaches;
import org.gantrel.service.telling.Tellings;
import org.gantrel.service.work.Destinations;
import org.gantrel.service.work.WorkFailed;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Takes messages to other systems, by a program of this host or over HTTP: as CloudEvents 1.0 in the structured mode, or with a body of the channel's own.
 * Redirects are not followed, and it goes only where requests of jobs may go.
 */
@Component
class Calls {

    private static final JsonMapper JSON = JsonMapper.shared();
    private static final Duration PATIENCE = Duration.ofSeconds(20);
    private static final int LONGEST_ANSWER = 300;
    private static final int MOST_BYTES = 4_000;

    private final Tellings tellings;
    private final Credentials credentials;
    private final Destinations destinations;
    private final ShortCommand programs;
    private final Clock clock;
    private final HttpClient http = HttpClient.newBuilder()
            .connectTimeout(Duration.ofSeconds(10))
            .followRedirects(HttpClient.Redirect.NEVER)
            .build();

    Calls(Tellings tellings, Credentials credentials, Destinations destinations, ShortCommand programs, Clock clock) {
        this.programs = programs;
        this.tellings = tellings;
        this.credentials = credentials;
        this.destinations = destinations;
        this.clock = clock;
    }

    /** What a message to a channel holds. */
    static String body(Optional<Channel> channel, Texts.Said said, Optional<Run> run, String kind, List<String> to) {
        var data = new LinkedHashMap<>(said.values());
        data.remove("colour");
        data.put("kind", kind);
        data.put("to", to);
        data.put("run", run.map(Run::number).orElse(0L));
        data.put("job", run.map(Run::jobName).orElse(""));
        data.put("state", run.map(each -> each.state().word()).orElse(""));
        return write(
                channel.map(Channel::form).orElse(Channel.Form.CLOUD_EVENT),
                channel.map(Channel::body).orElse(""),
                data,
                kind,
                run.map(each -> "/jobs/" + each.jobName()).orElse("/"),
                run.map(each -> "run " + each.number()).orElse(said.subject()));
    }

    /** What a test of a channel holds. */
    static String testBody(Channel channel, Map<String, Object> values) {
        var data = new LinkedHashMap<>(values);
        data.remove("colour");
        data.putAll(Map.of("kind", "test", "run", 0, "job", "none", "state", "succeeded"));
        return write(channel.form(), channel.body(), data, "test", "/", "a test");
    }

    private static String write(
            Channel.Form form, String body, Map<String, Object> data, String kind, String source, String subject) {
        if (form == Channel.Form.OWN) {
            return Mustaches.json(body, data);
        }
        var event = new LinkedHashMap<String, Object>();
        event.put("specversion", "1.0");
        event.put("type", "gantrel.message." + kind);
        event.put("source", source);
        event.put("subject", subject);
        event.put("datacontenttype", "application/json");
        event.put("data", data);
        return JSON.writeValueAsString(event);
    }

    /** Sends one message; what went wrong in the other side's own words, or the empty text. */
    String send(DeliveryRecord delivery) {
        Optional<Channel> channel = tellings.channel(delivery.channel());
        if (channel.isEmpty()) {
            return "there is no channel " + delivery.channel() + " any more";
        }
        return send(
                channel.get(),
                delivery.body(),
                String.valueOf(delivery.id()),
                delivery.madeAt().toString());
    }

    /** @param id the same at each try, so that the other side can tell a second one from a new message */
    String send(Channel channel, String text, String id, String time) {
        assert Transactions.none() : "another system is asked in a transaction";
        String body = text;
        if (channel.form() == Channel.Form.CLOUD_EVENT) {
            var event = (ObjectNode) JSON.readTree(text);
            event.put("id", id);
            event.put("time", time);
            body = JSON.writeValueAsString(event);
        }
        try {
            if (!channel.command().isEmpty()) {
                return run(channel, body);
            }
            URI address = URI.create(channel.call());
            Destinations.Way way = destinations.way(address);
            HttpRequest.Builder request = HttpRequest.newBuilder(address)
                    .timeout(PATIENCE)
                    .header(
                            "Content-Type",
                            channel.form() == Channel.Form.CLOUD_EVENT
                                    ? "application/cloudevents+json; charset=utf-8"
                                    : "application/json; charset=utf-8")
                    .header("Idempotency-Key", id)
                    .POST(HttpRequest.BodyPublishers.ofString(body));
            headers(channel, body).forEach(request::setHeader);
            return said(way.lead(request.build()));
        } catch (Refusal | WorkFailed | IllegalArgumentException e) {
            return String.valueOf(e.getMessage());
        }
    }

    /** Gives the message to a program, which has taken it where it ends with 0. */
    private String run(Channel channel, String body) {
        try {
            Optional<Credential> account =
                    channel.actsAs().isEmpty() ? Optional.empty() : Optional.of(open(channel, channel.actsAs()));
            ShortCommand.Ended ended = programs.run(channel.command(), account, body, PATIENCE);
            if (ended.code().isEmpty()) {
                return "it did not end within " + PATIENCE.toSeconds() + " s" + after(ended.said());
            }
            return ended.code().get() == 0
                    ? ""
                    : "it ended with the exit code " + ended.code().get() + after(ended.said());
        } catch (IOException e) {
            return "it cannot be started: " + e.getMessage();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return "the service stops";
        }
    }

    /** Makes the call, with an end to all waiting, also for who dribbles; of an answer only its beginning is kept. */
    private String said(HttpRequest request) {
        var body = new ByteArrayOutputStream();
        CompletableFuture<HttpResponse<Void>> answer = http.sendAsync(
                request,
                HttpResponse.BodyHandlers.ofByteArrayConsumer(part -> part.ifPresent(
                        bytes -> body.write(bytes, 0, Math.min(bytes.length, Math.max(0, MOST_BYTES - body.size()))))));
        try {
            int status = answer.get(PATIENCE.toSeconds(), TimeUnit.SECONDS).statusCode();
            return status / 100 == 2 ? "" : said(status, body.toString(StandardCharsets.UTF_8));
        } catch (TimeoutException e) {
            answer.cancel(true);
            return "no whole answer within " + PATIENCE.toSeconds() + " s";
        } catch (ExecutionException e) {
            Throwable cause = e.getCause();
            return TlsTrouble.of(cause)
                    .map(trouble -> request.uri().getAuthority() + " " + trouble)
                    .orElse(
                            cause.getMessage() == null
                                    ? "no answer: " + cause.getClass().getSimpleName()
                                    : cause.getMessage());
        } catch (InterruptedException e) {
            answer.cancel(true);
            Thread.currentThread().interrupt();
            return "the service stops";
        }
    }

    private static String said(int status, String body) {
        return "it answered " + status + after(body);
    }

    private static String after(String said) {
        String text = said.replaceAll("[\\s\\p{Cntrl}]+", " ").strip();
        return text.isEmpty() ? "" : ": " + text.substring(0, Math.min(LONGEST_ANSWER, text.length()));
    }

    private Map<String, String> headers(Channel channel, String body) {
        Map<String, String> headers = new LinkedHashMap<>(channel.headers());
        if (!channel.actsAs().isEmpty()) {
            headers.putAll(open(channel, channel.actsAs()).httpHeaders());
        }
        if (!channel.signedWith().isEmpty()) {
            String secret = open(channel, channel.signedWith()).secrets().values().stream()
                    .findFirst()
                    .orElse("");
            String time = String.valueOf(clock.instant().getEpochSecond());
            headers.put("Gantrel-Time", time);
            headers.put("Gantrel-Signature", "sha256=" + Hmac.hex(secret, time + "." + body));
        }
        return headers;
    }

    private Credential open(Channel channel, String name) {
        return credentials.useAgain(name, channel.team(), "");
    }
}
