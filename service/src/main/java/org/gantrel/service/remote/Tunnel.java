package org.gantrel.service.remote;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.Semaphore;
import org.apache.sshd.client.channel.ChannelDirectTcpip;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A way to one address as another host sees it: a proxy of HTTP (RFC 9110, 7.3 and 9.3.6) on this host's loopback whose
 * connections leave from the other host (RFC 4254, 7.2). It goes to that one address and nowhere else, whoever asks.
 */
public final class Tunnel implements AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(Tunnel.class);
    private static final int LONGEST_HEAD = 32_000;
    private static final int CHUNK = 16_384;

    /** One request is sent at a time; the others are for connections that are just ending. */
    private static final int MOST_AT_ONCE = 4;

    /** Any account of this host can connect to the entrance, and say nothing. */
    private static final int PATIENCE_MILLIS = 10_000;

    private final RemoteHost host;
    private final Runnable done;
    private final String target;
    private final int port;
    private final ServerSocket entrance;
    private final Semaphore places = new Semaphore(MOST_AT_ONCE);
    private final ExecutorService threads = Executors.newCachedThreadPool(task -> {
        var thread = new Thread(task, "tunnel");
        thread.setDaemon(true);
        return thread;
    });

    /** @param done gives the host back */
    Tunnel(RemoteHost host, Runnable done, String target, int port) throws IOException {
        this.host = host;
        this.done = done;
        this.target = target;
        this.port = port;
        this.entrance = new ServerSocket(0, 0, InetAddress.getLoopbackAddress());
        threads.execute(this::accept);
    }

    /** Where requests are sent to. */
    public InetSocketAddress entrance() {
        return new InetSocketAddress(InetAddress.getLoopbackAddress(), entrance.getLocalPort());
    }

    private void accept() {
        while (!entrance.isClosed()) {
            try {
                Socket socket = entrance.accept();
                if (places.tryAcquire()) {
                    threads.execute(() -> serve(socket));
                } else {
                    socket.close();
                }
            } catch (IOException | RejectedExecutionException e) {
                LOG.debug("tunnel to {}: {}", target, e.getMessage());
            }
        }
    }

    private void serve(Socket socket) {
        try (socket) {
            socket.setSoTimeout(PATIENCE_MILLIS);
            byte[] head = head(socket.getInputStream());
            socket.setSoTimeout(0);
            String[] line = new String(head, StandardCharsets.ISO_8859_1).split(" ", 3);
            boolean connects = line[0].equals("CONNECT");
            if (line.length < 3 || !isTarget(connects ? line[1] : line[1].replaceFirst("^https?://", ""))) {
                answer(socket, "403 Forbidden");
                return;
            }
            pass(socket, connects ? new byte[0] : head, connects);
        } catch (IOException e) {
            LOG.debug("tunnel to {}: {}", target, e.getMessage());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } finally {
            places.release();
        }
    }

    private void pass(Socket socket, byte[] first, boolean connects) throws IOException, InterruptedException {
        ChannelDirectTcpip channel;
        try {
            channel = host.open(target, port);
        } catch (IOException e) {
            answer(socket, "502 Bad Gateway");
            return;
        }
        try (channel) {
            if (connects) {
                answer(socket, "200 Connection established");
            }
            OutputStream there = channel.getInvertedIn();
            there.write(first);
            there.flush();
            threads.execute(() -> copy(socket, there));
            copy(channel.getInvertedOut(), socket.getOutputStream());
        } finally {
            host.closed();
        }
    }

    private boolean isTarget(String authority) {
        String asked = authority.replaceFirst("/.*", "");
        return asked.equalsIgnoreCase(target + ":" + port) || asked.equalsIgnoreCase(target);
    }

    private static void answer(Socket socket, String status) throws IOException {
        socket.getOutputStream()
                .write(("HTTP/1.1 " + status + "\r\n" + (status.startsWith("2") ? "" : "Content-Length: 0\r\n")
                                + "\r\n")
                        .getBytes(StandardCharsets.ISO_8859_1));
        socket.getOutputStream().flush();
    }

    /** The lines of a request up to the empty one, and no byte more. */
    private static byte[] head(InputStream in) throws IOException {
        var head = new ByteArrayOutputStream();
        int ends = 0;
        while (ends < 4) {
            int next = in.read();
            if (next < 0 || head.size() > LONGEST_HEAD) {
                throw new IOException("a request without an end of its head");
            }
            head.write(next);
            ends = next == (ends % 2 == 0 ? '\r' : '\n') ? ends + 1 : next == '\r' ? 1 : 0;
        }
        return head.toByteArray();
    }

    private static void copy(Socket from, OutputStream to) {
        try {
            copy(from.getInputStream(), to);
        } catch (IOException e) {
            LOG.debug("a tunnel's client has gone: {}", e.getMessage());
        }
    }

    private static void copy(InputStream from, OutputStream to) throws IOException {
        byte[] chunk = new byte[CHUNK];
        for (int read = from.read(chunk); read >= 0; read = from.read(chunk)) {
            to.write(chunk, 0, read);
            to.flush();
        }
    }

    @Override
    public void close() {
        try {
            entrance.close();
        } catch (IOException e) {
            LOG.debug("tunnel to {}: {}", target, e.getMessage());
        }
        threads.shutdownNow();
        done.run();
    }
}
