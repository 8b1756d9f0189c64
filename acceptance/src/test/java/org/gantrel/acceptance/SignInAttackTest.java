package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("Somebody who wants in")
class SignInAttackTest extends OneService {

    private static final String NEXT = "harbour-lantern-42";

    /** Sends bytes as they are, and returns what comes back until the server closes. */
    private static String raw(String request) throws IOException {
        URI url = URI.create(service.url());
        try (Socket socket = new Socket(url.getHost(), url.getPort())) {
            socket.setSoTimeout((int) Await.PATIENCE.toMillis());
            socket.getOutputStream().write(request.getBytes(StandardCharsets.ISO_8859_1));
            socket.getOutputStream().flush();
            return new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        }
    }

    private static String rawGet(String address, String headers) throws IOException {
        return raw("GET " + address + " HTTP/1.1\r\nHost: x\r\nConnection: close\r\nAuthorization: Bearer "
                + admin.token() + "\r\n" + headers + "\r\n");
    }

    private static Http person(String name) {
        admin.post("/api/v1/people", Map.of("name", name, "password", Service.PASSWORD))
                .expect(201);
        return service.as(name, Service.PASSWORD);
    }

    /** Signed in as the console is: by a cookie, with the page's token. */
    private static Http console(String name, String password) {
        Http browser = Http.unsigned(service.url());
        String cookie = browser.post("/api/v1/sessions", Map.of("name", name, "password", password))
                .expect(200)
                .header("Set-Cookie")
                .split(";")[0];
        String csrf = browser.with("Cookie", cookie)
                .get("/api/v1/me")
                .expect(200)
                .body()
                .path("csrf")
                .asString();
        return browser.with("Cookie", cookie + "; gantrel-csrf=" + csrf).with("X-Gantrel-CSRF", csrf);
    }

    @ParameterizedTest(name = "{0}")
    @DisplayName("is answered with a refusal, not with a fault, whatever the call looks like")
    @CsvSource(
            delimiter = '|',
            value = {
                "/error | 404",
                "/api/v1/runs?q=%ff%fe | 400",
                "/api/v1/runs?q=%00 | 400",
                "/api/v1/runs?q=%zz | 400",
                "/api/v1/jobs/a%00b | 400",
                "/api/v1/jobs/a%2Fb | 400",
                "/api/v1/runs?since=%2B1000000000-12-31T23:59:59Z | 422",
                "/api/v1/runs?since=-999999999-01-01T00:00:00Z | 422",
                "/api/v1/forecast?from=%2B1000000000-12-31T23:59:59Z | 400",
                "/api/v1/when?expression=((((((((((((((((((((((((((((((((((( | 422",
            })
    void oddCalls(String address, int status) throws IOException {
        String answer = rawGet(address, "");
        assertThat(answer).startsWith("HTTP/1.1 " + status);
        assertThat(answer).contains("\"status\":" + status).doesNotContain("Exception");
    }

    @ParameterizedTest(name = "{0}")
    @DisplayName("sends bodies that are no JSON in vain")
    @CsvSource({"*/*", "application/x-www-form-urlencoded", "text/plain", "application/json;charset=UTF-16", "nonsense"
    })
    void oddBodies(String type) throws IOException {
        String answer = raw("POST /api/v1/teams HTTP/1.1\r\nHost: x\r\nConnection: close\r\nAuthorization: Bearer "
                + admin.token() + "\r\nContent-Type: " + type + "\r\nContent-Length: 6\r\n\r\na=%00\0");
        assertThat(answer).startsWith("HTTP/1.1 415").contains("Content-Type: application/json");
    }

    @Test
    @DisplayName("may send no more than a sign-in takes, and has to send it soon")
    void smallAndSoon() throws IOException {
        String head =
                "POST /api/v1/sessions HTTP/1.1\r\nHost: x\r\nConnection: close\r\nContent-Type: application/json\r\n";
        assertThat(raw(head + "Content-Length: 5000\r\n\r\n")).startsWith("HTTP/1.1 413");
        String chunk = "1000\r\n" + " ".repeat(4_096) + "\r\n";
        assertThat(raw(head + "Transfer-Encoding: chunked\r\n\r\n" + chunk + chunk + "0\r\n\r\n"))
                .startsWith("HTTP/1.1 413");
        URI url = URI.create(service.url());
        try (Socket socket = new Socket(url.getHost(), url.getPort())) {
            socket.setSoTimeout((int) Await.PATIENCE.toMillis());
            socket.getOutputStream()
                    .write((head + "Content-Length: 4000\r\n\r\n{").getBytes(StandardCharsets.US_ASCII));
            socket.getOutputStream().flush();
            String answer = new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            assertThat(answer).startsWith("HTTP/1.1 4");
        }
    }

    @Test
    @DisplayName("cannot act through a browser's cookie, also where another kind of sign-in comes with it")
    void cookieWithAnotherHeader() {
        person("lea.moss");
        Http browser = Http.unsigned(service.url());
        String cookie = browser.post("/api/v1/sessions", Map.of("name", "lea.moss", "password", Service.PASSWORD))
                .header("Set-Cookie")
                .split(";")[0];
        for (String header : List.of("Basic bGVhOng=", "Negotiate x", "bearer", "")) {
            assertThat(browser.with("Cookie", cookie)
                            .with("Authorization", header)
                            .post("/api/v1/tokens", Map.of("name", "stolen"))
                            .status())
                    .as(header)
                    .isIn(401, 403);
        }
    }

    @Test
    @DisplayName("needs the old password and a session to set a new one, and then all else has ended")
    void passwords() {
        Http token = person("tor.eide");
        Http session = console("tor.eide", Service.PASSWORD);
        Http other = console("tor.eide", Service.PASSWORD);
        String path = "/api/v1/people/tor.eide/password";
        assertThat(token.put(path, Map.of("password", NEXT, "old", Service.PASSWORD))
                        .expect(403)
                        .detail())
                .contains("gantrel person password");
        assertThat(session.put(path, Map.of("password", NEXT)).expect(422).detail())
                .contains("old: is not the password of tor.eide");
        assertThat(session.put(path, Map.of("password", "short-one", "old", Service.PASSWORD))
                        .expect(422)
                        .detail())
                .contains("at least 12 characters");
        for (String common : List.of("passwordpassword", "qwertyuiop123", "123456789012", "tor.eide.tor.eide")) {
            assertThat(session.put(path, Map.of("password", common, "old", Service.PASSWORD))
                            .expect(422)
                            .detail())
                    .as(common)
                    .contains("guessed first");
        }
        session.put(path, Map.of("password", NEXT, "old", Service.PASSWORD)).expect(204);
        for (Http ended : List.of(token, session, other)) {
            ended.get("/api/v1/me").expect(401);
        }
        Http again = service.as("tor.eide", NEXT);
        admin.put(path, Map.of("password", NEXT + "-b")).expect(204);
        again.get("/api/v1/me").expect(401);
        Http last = service.as("tor.eide", NEXT + "-b");
        admin.put("/api/v1/people/tor.eide/shut", Map.of("shut", true)).expect(204);
        admin.put("/api/v1/people/tor.eide/shut", Map.of("shut", false)).expect(204);
        last.get("/api/v1/me").expect(401);
    }

    @Test
    @DisplayName("sees the command change a password, sign in anew and go on")
    void passwordByCommand() {
        Http ivo = person("ivo.brandt");
        Map<String, String> here = Map.of(
                "GANTREL_URL",
                service.url(),
                "GANTREL_TOKEN",
                ivo.token(),
                "XDG_CONFIG_HOME",
                work.folder().toString());
        Shell.Result wrong = Shell.run(
                here,
                "nonsense-nonsense\n" + NEXT + "\n",
                "gantrel",
                "person",
                "password",
                "ivo.brandt",
                "--password-stdin");
        assertThat(wrong.expect(3).err()).contains("the name or the password is wrong");
        Shell.Result changed = Shell.run(
                here,
                Service.PASSWORD + "\n" + NEXT + "\n",
                "gantrel",
                "person",
                "password",
                "ivo.brandt",
                "--password-stdin");
        assertThat(changed.expect(0).err()).contains("your password is changed");
        Shell.Result me = Shell.run(
                Map.of(
                        "GANTREL_URL",
                        service.url(),
                        "XDG_CONFIG_HOME",
                        work.folder().toString()),
                "",
                "gantrel",
                "status");
        me.expect(0);
        ivo.get("/api/v1/me").expect(401);
    }

    @Test
    @DisplayName("is written down: each sign-in, each failure and each pause, without what was typed")
    void isWrittenDown() {
        Http sanna = person("sanna.lind");
        Http out = console("sanna.lind", Service.PASSWORD);
        out.send("DELETE", "/api/v1/sessions/current", null).expect(204);
        Http unknown = Http.unsigned(service.url());
        for (int i = 0; i < 5; i++) {
            unknown.post("/api/v1/sessions", Map.of("name", "sanna.lind", "password", "nope-nope-nope"))
                    .expect(401);
        }
        unknown.post("/api/v1/sessions", Map.of("name", "my-secret-as-a-name", "password", "x"))
                .expect(401);
        for (int i = 0; i < 10; i++) {
            // each further failure doubles the pause, which on a busy machine passes while it is asked
            unknown.post("/api/v1/sessions", Map.of("name", "sanna.lind", "password", "nope-nope-nope"));
        }
        Http.Answer paused =
                unknown.post("/api/v1/sessions", Map.of("name", "sanna.lind", "password", Service.PASSWORD));
        paused.expect(429);
        assertThat(Integer.parseInt(paused.header("Retry-After"))).isPositive();
        sanna.get("/api/v1/me").expect(200);
        String changes = admin.get("/api/v1/changes?limit=100").text();
        assertThat(changes)
                .contains("signed in")
                .contains("signed out")
                .contains("failed to sign in")
                .contains("slowed down")
                .contains("from 127.0.0.1")
                .doesNotContain("my-secret-as-a-name")
                .doesNotContain("nope-nope");
    }

    @Test
    @DisplayName("takes no more than their share of calls at once; others are answered meanwhile")
    void share() throws Exception {
        Http greedy = person("mara.holt");
        ExecutorService many = Executors.newFixedThreadPool(120);
        try {
            var calls = new ArrayList<Future<Integer>>();
            Callable<Integer> call =
                    () -> greedy.get("/api/v1/runs?limit=500&q=x").status();
            for (int i = 0; i < 200; i++) {
                calls.add(many.submit(call));
            }
            admin.get("/api/v1/me").expect(200);
            for (Future<Integer> each : calls) {
                assertThat(each.get()).isIn(200, 400, 429);
            }
        } finally {
            many.shutdownNow();
        }
    }

    @Test
    @DisplayName(
            "comes over TLS that the service speaks itself, with cookies that no plain page can set, and by the command")
    void speaksTls(@TempDir Path folder) throws Exception {
        Path store = folder.resolve("store.p12");
        KeyStore keys = madeKeys(store);
        Path certificate = pem(folder, "CERTIFICATE", keys.getCertificate("own").getEncoded());
        Path key = pem(
                folder,
                "PRIVATE KEY",
                keys.getKey("own", "secret".toCharArray()).getEncoded());
        try (Service secure = Service.fresh("--tls-cert", certificate.toString(), "--tls-key", key.toString())) {
            assertThat(secure.url()).startsWith("https://127.0.0.1:");
            var trust = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
            trust.init(keys);
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(null, trust.getTrustManagers(), null);
            HttpClient client = HttpClient.newBuilder().sslContext(context).build();
            HttpResponse<String> in = signIn(client, secure, Map.of("name", "admin", "password", Service.PASSWORD));
            assertThat(in.headers().firstValue("Set-Cookie").orElse(""))
                    .startsWith("__Host-gantrel-session=")
                    .contains("Secure", "HttpOnly", "SameSite=Strict");
            assertThat(in.headers().firstValue("Strict-Transport-Security")).isPresent();
            String token = Http.JSON
                    .readTree(signIn(
                                    client,
                                    secure,
                                    Map.of("name", "admin", "password", Service.PASSWORD, "token", "test"))
                            .body())
                    .path("token")
                    .asString();
            Map<String, String> environment = Map.of(
                    "GANTREL_URL",
                    secure.url(),
                    "GANTREL_TOKEN",
                    token,
                    "JAVA_TOOL_OPTIONS",
                    "-Djavax.net.ssl.trustStore=" + store + " -Djavax.net.ssl.trustStorePassword=secret");
            Shell.Result status = Shell.run(environment, "", "gantrel", "status");
            assertThat(status.code()).as(status.err()).isZero();
            Shell.Result stranger =
                    Shell.run(Map.of("GANTREL_URL", secure.url(), "GANTREL_TOKEN", token), "", "gantrel", "status");
            assertThat(stranger.code()).isNotZero();
            assertThat(stranger.err()).contains("certificate").doesNotContain("Exception", "PKIX");
            int plain = Http.unsigned(secure.url().replace("https", "http"))
                    .get("/api/v1/me")
                    .status();
            assertThat(plain).as("what is said without TLS").isEqualTo(400);
        }
    }

    /** A certificate for the loopback address that nobody has signed but its own key. */
    private static KeyStore madeKeys(Path store) throws Exception {
        int made = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "keytool")
                                .toString(),
                        "-genkeypair",
                        "-alias",
                        "own",
                        "-keyalg",
                        "EC",
                        "-dname",
                        "CN=localhost",
                        "-ext",
                        "SAN=ip:127.0.0.1,dns:localhost",
                        "-keystore",
                        store.toString(),
                        "-storepass",
                        "secret")
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start()
                .waitFor();
        assertThat(made).isZero();
        return KeyStore.getInstance(store.toFile(), "secret".toCharArray());
    }

    private static HttpResponse<String> signIn(HttpClient client, Service service, Map<String, String> body)
            throws IOException, InterruptedException {
        HttpResponse<String> answer = client.send(
                HttpRequest.newBuilder(URI.create(service.url() + "/api/v1/sessions"))
                        .header("Content-Type", "application/json")
                        .POST(HttpRequest.BodyPublishers.ofString(Http.JSON.writeValueAsString(body)))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        assertThat(answer.statusCode()).isEqualTo(200);
        return answer;
    }

    private static Path pem(Path folder, String kind, byte[] content) throws IOException {
        return Files.writeString(
                folder.resolve(kind.replace(' ', '-') + ".pem"),
                "-----BEGIN " + kind + "-----\n" + Base64.getMimeEncoder().encodeToString(content) + "\n-----END "
                        + kind + "-----\n");
    }

    @Test
    @DisplayName("is believed about TLS and where a call comes from by a proxy that is trusted, and by nobody else")
    void proxies() {
        Map<String, String> name = Map.of("name", "admin", "password", Service.PASSWORD);
        try (Service behind = Service.fresh("--trusted-proxies", "127.0.0.1")) {
            Http proxy = Http.unsigned(behind.url())
                    .with("X-Forwarded-Proto", "https")
                    .with("X-Forwarded-For", "203.0.113.9");
            String cookie = proxy.post("/api/v1/sessions", name).expect(200).header("Set-Cookie");
            assertThat(cookie).startsWith("__Host-gantrel-session=").contains("Secure");
            proxy.with("Cookie", cookie.split(";")[0]).get("/api/v1/me").expect(200);
            // what another host or a page over plain HTTP may have set is none of it
            proxy.with("Cookie", cookie.split(";")[0].replace("__Host-", ""))
                    .get("/api/v1/me")
                    .expect(401);
            proxy.post("/api/v1/sessions", Map.of("name", "admin", "password", "x"))
                    .expect(401);
            assertThat(behind.admin().get("/api/v1/changes").text()).contains("from 203.0.113.9");
        }
        Http liar =
                Http.unsigned(service.url()).with("X-Forwarded-Proto", "https").with("X-Forwarded-For", "203.0.113.9");
        assertThat(liar.post("/api/v1/sessions", name).expect(200).header("Set-Cookie"))
                .startsWith("gantrel-session=");
    }
}
