package org.gantrel.service.work;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import jakarta.mail.MessagingException;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.stream.Stream;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.service.Await;
import org.gantrel.service.TestSettings;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.imports.Imports.DefinitionFile;
import org.gantrel.service.imports.Imports.ImportBody;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Starts;
import org.gantrel.service.start.Serve;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.gantrel.service.work.ActionExecutor.Rehearsed;
import org.h2.tools.Server;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;

/** A service that works, with a kiosk, a mail server and a ticket database to work on. */
abstract class WorkingService {

    static final Caller SERVICE = Caller.service();
    static final String TICKETS = "jdbc:h2:mem:tickets;DB_CLOSE_DELAY=-1";
    static final String SECRET = "hush-hush-7";

    @TempDir
    static Path folder;

    static ConfigurableApplicationContext service;
    static HttpServer kiosk;
    static GreenMail mail;
    static Server databases;
    static int jobs;

    @BeforeAll
    static void start() throws IOException, SQLException {
        kiosk = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        // an answer that is slow must not keep the others waiting
        kiosk.setExecutor(Executors.newCachedThreadPool());
        kiosk.createContext("/", WorkingService::answer);
        kiosk.start();
        mail = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.start();
        try (Connection tickets = DriverManager.getConnection(TICKETS)) {
            // the database outlives a test class
            tickets.createStatement().execute("drop all objects");
            tickets.createStatement().execute("create table sale (sold_on date, route varchar(20), cents int)");
            tickets.createStatement()
                    .execute("insert into sale values ('2026-11-22', 'sound', 1250), ('2026-11-22', 'skarholm', 900),"
                            + " ('2026-11-21', 'sound', 400)");
            tickets.createStatement().execute("create table copy (sold_on date, route varchar(20), cents int)");
            tickets.createStatement().execute("create user settle password '" + SECRET + "' admin");
        }
        databases = Server.createTcpServer("-tcpPort", "0").start();
        service = Serve.start(TestSettings.in(folder, 4), Clock.systemUTC());
        service.getBean(Teams.class).create(SERVICE, "revenue", "");
        service.getBean(Teams.class).create(SERVICE, "harbour", "");
        keep("tickets", "database", Map.of("url", onServer("tickets"), "user", "settle"), Map.of("password", SECRET));
        keep("kiosk", "http-bearer", Map.of(), Map.of("token", SECRET));
        keep(
                "post",
                "mail",
                Map.of(
                        "host",
                        "127.0.0.1",
                        "port",
                        String.valueOf(mail.getSmtp().getPort()),
                        "from",
                        "gantrel@example.org"),
                Map.of("password", SECRET));
        keep("processor", "secret", Map.of(), Map.of("value", SECRET));
        keep("nobody", "account", Map.of("account", "nobody"), Map.of());
        keep("root", "account", Map.of("account", "root"), Map.of());
    }

    /** The address of a database in memory, as the server of databases has it. */
    static String onServer(String name) {
        return "jdbc:h2:tcp://127.0.0.1:" + databases.getPort() + "/mem:" + name;
    }

    @AfterAll
    static void end() {
        databases.stop();
        service.close();
        kiosk.stop(0);
        mail.stop();
    }

    static void answer(HttpExchange exchange) throws IOException {
        boolean known = ("Bearer " + SECRET).equals(exchange.getRequestHeaders().getFirst("Authorization"));
        boolean open = exchange.getRequestURI().getPath().startsWith("/open");
        byte[] body =
                ("{\"kiosk\":{\"name\":\"skarholm\",\"open\":" + open + "},\"said\":\"" + SECRET + "\"}").getBytes();
        String charset = exchange.getRequestURI().getQuery();
        if (charset != null) {
            body = "Skarhølm\n".getBytes(StandardCharsets.ISO_8859_1);
            exchange.getResponseHeaders().set("Content-Type", "text/plain; charset=" + charset);
        }
        exchange.sendResponseHeaders(known || open ? 200 : 401, body.length);
        exchange.getResponseBody().write(body);
        exchange.close();
    }

    static String address() {
        return "http://127.0.0.1:" + kiosk.getAddress().getPort();
    }

    static void keep(String name, String kind, Map<String, String> facts, Map<String, String> secrets) {
        service.getBean(Credentials.class)
                .keep(
                        SERVICE,
                        name,
                        new Credentials.Draft(
                                "revenue",
                                CredentialKind.of(kind).orElseThrow(),
                                "",
                                facts,
                                secrets,
                                null,
                                List.of(),
                                List.of()));
    }

    /** What a rehearsal of a job finds; it asks others, and is in no transaction, as where it is called. */
    static List<Rehearsed> rehearsed(String name, Optional<String> over) {
        return service
                .getBean(Rehearsals.class)
                .of(
                        service.getBean(Jobs.class).named(name).orElseThrow(),
                        Map.of(),
                        over,
                        Optional.empty(),
                        Instant.now())
                .lines()
                .stream()
                .map(Sheet.Line::found)
                .toList();
    }

    static String define(String rest) {
        String name = "job-" + ++jobs;
        String text = "task: " + name + "\nteam: revenue\n" + rest;
        service.getBean(Imports.class).bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("t", text))));
        return name;
    }

    static Run run(String rest, Map<String, String> values) {
        return ended(service.getBean(Starts.class).start(SERVICE, define(rest), values, Optional.empty()));
    }

    static Run ended(Run run) {
        Await.until("it ends", () -> found(run).state().isEnded());
        return found(run);
    }

    static Run run(String rest) {
        return run(rest, Map.of());
    }

    static Run found(Run run) {
        return service.getBean(Runs.class).find(run.number()).orElseThrow();
    }

    static Path kept(Run run) {
        return folder.resolve("data/runs/" + run.number() / 1000 + "/" + run.number());
    }

    static String log(Run run) throws IOException {
        return Files.readString(kept(run).resolve("log"));
    }

    static List<String> subjects() {
        return Stream.of(mail.getReceivedMessages())
                .map(each -> {
                    try {
                        return each.getSubject();
                    } catch (MessagingException e) {
                        throw new IllegalStateException(e);
                    }
                })
                .toList();
    }
}
