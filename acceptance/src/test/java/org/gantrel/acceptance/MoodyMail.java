package org.gantrel.acceptance;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** A mail server (RFC 5321) that stalls, refuses, or hangs up in the middle of a mail, as it is told to. */
final class MoodyMail implements AutoCloseable {

    enum Mood {
        WELL,
        /** Says nothing any more. */
        STALLS,
        /** Takes no mail now. */
        REFUSES,
        /** Hangs up before a mail has come whole. */
        DROPS
    }

    private final ServerSocket entrance;
    private final Set<Socket> open = ConcurrentHashMap.newKeySet();
    private final Map<String, Integer> taken = new HashMap<>();
    private volatile Mood mood = Mood.WELL;

    MoodyMail() throws IOException {
        entrance = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
        start(this::accept);
    }

    private static void start(Runnable work) {
        var thread = new Thread(work, "mail");
        thread.setDaemon(true);
        thread.start();
    }

    int port() {
        return entrance.getLocalPort();
    }

    /** Those that wait for a word are hung up on, as they would be when such a server is started again. */
    void be(Mood next) throws IOException {
        mood = next;
        for (Socket each : open) {
            each.close();
        }
    }

    /** How many mails each receiver has got. */
    Map<String, Integer> taken() {
        synchronized (taken) {
            return Map.copyOf(taken);
        }
    }

    private void accept() {
        while (!entrance.isClosed()) {
            try {
                Socket socket = entrance.accept();
                open.add(socket);
                start(() -> talk(socket));
            } catch (IOException e) {
                // closed
            }
        }
    }

    private void talk(Socket socket) {
        try (socket) {
            var in = new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8));
            OutputStream out = socket.getOutputStream();
            say(out, mood == Mood.REFUSES ? "421 not now" : "220 harbour");
            String receiver = "";
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                String verb = line.split("[ :]", 2)[0].toUpperCase();
                switch (verb) {
                    case "RCPT" -> {
                        receiver = line.replaceAll(".*<|>.*", "");
                        say(out, "250 fine");
                    }
                    case "DATA" -> {
                        say(out, "354 go on");
                        read(in);
                        if (mood == Mood.DROPS) {
                            return;
                        }
                        synchronized (taken) {
                            taken.merge(receiver, 1, Integer::sum);
                        }
                        say(out, "250 taken");
                    }
                    case "QUIT" -> {
                        say(out, "221 bye");
                        return;
                    }
                    default -> say(out, "250 fine");
                }
            }
        } catch (IOException e) {
            // whoever called has gone, or is to go
        } finally {
            open.remove(socket);
        }
    }

    private void say(OutputStream out, String line) throws IOException {
        if (mood != Mood.STALLS) {
            out.write((line + "\r\n").getBytes(StandardCharsets.UTF_8));
            out.flush();
        }
    }

    private static void read(BufferedReader in) throws IOException {
        for (String line = in.readLine(); !".".equals(line); line = in.readLine()) {
            if (line == null) {
                throw new IOException("gone");
            }
        }
    }

    @Override
    public void close() throws IOException {
        entrance.close();
        be(Mood.WELL);
    }
}
