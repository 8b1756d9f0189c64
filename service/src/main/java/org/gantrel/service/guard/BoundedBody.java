package org.gantrel.service.guard;

import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import java.io.IOException;
import java.time.Duration;
import org.gantrel.service.refusal.Refusal;

/** A call whose body may have so many bytes, and must have arrived within so long. */
final class BoundedBody extends HttpServletRequestWrapper {

    private final long most;
    private final Duration patience;
    private ServletInputStream stream;

    BoundedBody(HttpServletRequest request, long most, Duration patience) {
        super(request);
        this.most = most;
        this.patience = patience;
    }

    @Override
    public ServletInputStream getInputStream() throws IOException {
        if (stream == null) {
            stream = new Counted(super.getInputStream());
        }
        return stream;
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
