package org.gantrel.service.guard;

import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import org.gantrel.service.refusal.Refusal;

/**
 * A call whose body may have so many bytes, and must have arrived within so long. A large one waits on the disk for its
 * turn, so that neither those who send slowly nor those who wait take any memory.
 */
final class BoundedBody extends HttpServletRequestWrapper implements AutoCloseable {

    private final long most;
    private final Duration patience;
    private final LargeBodies.Turn turn;
    private ServletInputStream stream;

    BoundedBody(HttpServletRequest request, long most, Duration patience, LargeBodies.Turn turn) {
        super(request);
        this.most = most;
        this.patience = patience;
        this.turn = turn;
    }

    @Override
    public ServletInputStream getInputStream() throws IOException {
        if (stream == null) {
            var counted = new Counted(super.getInputStream());
            stream = most <= Fairness.CALL_BYTES ? counted : new Arrived(arrived(counted));
        }
        return stream;
    }

    private InputStream arrived(InputStream body) throws IOException {
        byte[] begin = body.readNBytes(LargeBodies.SMALL + 1);
        if (begin.length <= LargeBodies.SMALL) {
            return new ByteArrayInputStream(begin);
        }
        try {
            turn.arrives();
        } catch (Refusal refusal) {
            // whoever still sends would not hear it
            body.transferTo(OutputStream.nullOutputStream());
            throw refusal;
        }
        // the file has no name from now on, so that nothing of it is left behind, whatever happens
        FileChannel file = FileChannel.open(
                Files.createTempFile("body", ""),
                StandardOpenOption.READ,
                StandardOpenOption.WRITE,
                StandardOpenOption.DELETE_ON_CLOSE);
        try {
            OutputStream out = Channels.newOutputStream(file);
            out.write(begin);
            body.transferTo(out);
            file.position(0);
            turn.isLookedInto(file.size());
            return Channels.newInputStream(file);
        } catch (IOException | RuntimeException e) {
            file.close();
            throw e;
        }
    }

    @Override
    public void close() throws IOException {
        if (stream instanceof Arrived) {
            stream.close();
        }
    }

    /** A body that is there. */
    private static final class Arrived extends ServletInputStream {
        private final InputStream body;
        private boolean finished;

        private Arrived(InputStream body) {
            this.body = body;
        }

        @Override
        public int read() throws IOException {
            int letter = body.read();
            finished |= letter < 0;
            return letter;
        }

        @Override
        public int read(byte[] into, int offset, int length) throws IOException {
            int read = body.read(into, offset, length);
            finished |= read < 0;
            return read;
        }

        @Override
        public void close() throws IOException {
            body.close();
        }

        @Override
        public boolean isFinished() {
            return finished;
        }

        @Override
        public boolean isReady() {
            return true;
        }

        @Override
        public void setReadListener(ReadListener listener) {
            throw new UnsupportedOperationException("a body that is there is not listened for");
        }
    }

    private final class Counted extends ServletInputStream {

        private final ServletInputStream from;
        private final long begun = System.nanoTime();
        private long read;

        private Counted(ServletInputStream from) {
            this.from = from;
        }

        private int count(int bytes) {
            read += Math.max(0, bytes);
            if (read > most) {
                throw Refusal.tooLarge(most);
            }
            if (System.nanoTime() - begun > patience.toNanos()) {
                throw Refusal.tooSlow(patience);
            }
            return bytes;
        }

        @Override
        public int read() throws IOException {
            int letter = from.read();
            count(letter < 0 ? 0 : 1);
            return letter;
        }

        @Override
        public int read(byte[] into, int offset, int length) throws IOException {
            return count(from.read(into, offset, length));
        }

        @Override
        public boolean isFinished() {
            return from.isFinished();
        }

        @Override
        public boolean isReady() {
            return from.isReady();
        }

        @Override
        public void setReadListener(ReadListener listener) {
            from.setReadListener(listener);
        }
    }
}
