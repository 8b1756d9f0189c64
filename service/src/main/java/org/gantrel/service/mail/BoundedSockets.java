package org.gantrel.service.mail;

import java.io.FilterInputStream;
import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketException;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import javax.net.SocketFactory;

/**
 * Connections on which the other side may say only so much, and for only so long, until it is spoken to again. Whoever reads an
 * answer of SMTP holds it until it ends, and it ends when the server likes (RFC 5321, 4.2).
 */
public final class BoundedSockets extends SocketFactory {

    /** A reply has lines of 512 bytes (RFC 5321, 4.5.3.1.5); the certificates of TLS take more. */
    private static final int MOST = 256 * 1024;

    /** The longest that a server is to be waited for (RFC 5321, 4.5.3.2.6). */
    private static final long LONGEST_NANOS = TimeUnit.MINUTES.toNanos(10);

    private final Set<Bounded> open = ConcurrentHashMap.newKeySet();
    private volatile boolean closed;

    /** Closes what is open, and what is opened from now on: whoever waits for an answer does not any more. */
    public synchronized void close() {
        closed = true;
        List.copyOf(open).forEach(Bounded::shut);
    }

    @Override
    public synchronized Socket createSocket() throws IOException {
        if (closed) {
            throw new SocketException("it was stopped");
        }
        var socket = new Bounded();
        open.add(socket);
        return socket;
    }

    @Override
    public Socket createSocket(String host, int port) throws IOException {
        return connected(new InetSocketAddress(host, port), null);
    }

    @Override
    public Socket createSocket(String host, int port, InetAddress from, int fromPort) throws IOException {
        return connected(new InetSocketAddress(host, port), new InetSocketAddress(from, fromPort));
    }

    @Override
    public Socket createSocket(InetAddress host, int port) throws IOException {
        return connected(new InetSocketAddress(host, port), null);
    }

    @Override
    public Socket createSocket(InetAddress host, int port, InetAddress from, int fromPort) throws IOException {
        return connected(new InetSocketAddress(host, port), new InetSocketAddress(from, fromPort));
    }

    private Socket connected(InetSocketAddress to, InetSocketAddress from) throws IOException {
        Socket socket = createSocket();
        socket.bind(from);
        socket.connect(to);
        return socket;
    }

    private final class Bounded extends Socket {

        private volatile int said;
        private volatile long since = System.nanoTime();

        private int counted(int bytes) throws IOException {
            said += Math.max(0, bytes);
            if (said > MOST) {
                throw new IOException("the server says more than " + MOST + " bytes for an answer");
            }
            if (System.nanoTime() - since > LONGEST_NANOS) {
                throw new IOException("the server does not end its answer within "
                        + TimeUnit.NANOSECONDS.toMinutes(LONGEST_NANOS) + " min");
            }
            return bytes;
        }

        @Override
        public void close() throws IOException {
            open.remove(this);
            super.close();
        }

        private void shut() {
            try {
                close();
            } catch (IOException e) {
                // it is of no use to anybody any more
                return;
            }
        }

        private void spoken() {
            said = 0;
            since = System.nanoTime();
        }

        @Override
        public InputStream getInputStream() throws IOException {
            return new FilterInputStream(super.getInputStream()) {
                @Override
                public int read() throws IOException {
                    int read = in.read();
                    counted(1);
                    return read;
                }

                @Override
                public int read(byte[] into, int from, int most) throws IOException {
                    return counted(in.read(into, from, most));
                }
            };
        }

        @Override
        public OutputStream getOutputStream() throws IOException {
            return new FilterOutputStream(super.getOutputStream()) {
                @Override
                public void write(int one) throws IOException {
                    spoken();
                    out.write(one);
                }

                @Override
                public void write(byte[] bytes, int from, int length) throws IOException {
                    spoken();
                    out.write(bytes, from, length);
                }
            };
        }
    }
}
