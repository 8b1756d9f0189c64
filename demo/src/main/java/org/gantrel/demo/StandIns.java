package org.gantrel.demo;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.HashSet;

/**
 * The outside systems of Lowmarsh Ferries: a mail server that keeps what it gets as files, the kiosks' HTTP service, the
 * ticket database, and a host at the harbour. They listen on the loopback address only.
 */
public final class StandIns {

    /** The kiosk at Skarholm sells nothing in this part of each hour, so that there is a failure to look at. */
    private static final int CLOSED_FROM_MINUTE = 10;

    private static final int CLOSED_UNTIL_MINUTE = 20;

    private StandIns() {}

    /**
     * Starts them and goes on until the process is ended.
     *
     * @param arguments the port for mail, the port for kiosks, the folder for mails, the port of the database, the port of
     *     the harbour's host, the folder of both
     */
    public static void main(String[] arguments) throws IOException, InterruptedException, SQLException {
        Path folder = Files.createDirectories(Path.of(arguments[2]));
        GreenMail mail = startMail(Integer.parseInt(arguments[0]));
        startKiosks(Integer.parseInt(arguments[1]));
        Path world = Path.of(arguments[5]);
        TicketDatabase.start(Integer.parseInt(arguments[3]), world);
        new HarbourHost(
                Integer.parseInt(arguments[4]),
                world.resolve("harbour-host"),
                world.resolve("harbour-key"),
                "lantern-and-log");
        System.out.println("stand-ins: mail on 127.0.0.1:" + arguments[0] + " (kept in " + folder
                + "), kiosks on 127.0.0.1:" + arguments[1]);
        // they are listed mailbox by mailbox, not in the order in which they came
        var kept = new HashSet<String>();
        while (true) {
            mail.waitForIncomingEmail(Long.MAX_VALUE / 2, kept.size() + 1);
            for (MimeMessage message : mail.getReceivedMessages()) {
                if (kept.add(id(message))) {
                    keep(message, folder, kept.size());
                }
            }
        }
    }

    private static String id(MimeMessage mail) {
        try {
            return mail.getMessageID() + " " + Arrays.toString(mail.getAllRecipients());
        } catch (MessagingException e) {
            return String.valueOf(System.identityHashCode(mail));
        }
    }

    /** A mail server that takes every mail for every address. */
    public static GreenMail startMail(int port) {
        var mail = new GreenMail(new ServerSetup(port, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.start();
        return mail;
    }

    /** The kiosks' service: {@code GET /kiosks/NAME} answers 200, or 503 while that kiosk sells nothing. */
    public static HttpServer startKiosks(int port) throws IOException {
        var server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 0);
        server.createContext("/kiosks/", StandIns::answer);
        server.createContext("/board", StandIns::show);
        server.start();
        return server;
    }

    private static void answer(HttpExchange exchange) throws IOException {
        String kiosk = exchange.getRequestURI().getPath().substring("/kiosks/".length());
        int minute = LocalTime.now(ZoneOffset.UTC).getMinute();
        boolean closed = kiosk.equals("skarholm") && minute >= CLOSED_FROM_MINUTE && minute < CLOSED_UNTIL_MINUTE;
        byte[] body = (closed ? "closed\n" : "selling\n").getBytes(StandardCharsets.UTF_8);
        exchange.sendResponseHeaders(closed ? 503 : 200, body.length);
        exchange.getResponseBody().write(body);
        exchange.close();
    }

    /** The board in the harbour office takes what it is called with. */
    private static void show(HttpExchange exchange) throws IOException {
        exchange.getRequestBody().readAllBytes();
        exchange.sendResponseHeaders(204, -1);
        exchange.close();
    }

    private static void keep(MimeMessage mail, Path folder, int index) throws IOException {
        String name = Instant.now().toString().replace(':', '-') + "-" + index + ".eml";
        try (OutputStream out = Files.newOutputStream(folder.resolve(name))) {
            mail.writeTo(out);
        } catch (MessagingException e) {
            System.err.println("a mail could not be kept: " + e.getMessage());
        }
    }
}
