package org.gantrel.service.guard;

import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import java.io.IOException;
import java.io.InputStream;

/** A call whose body is there. */
final class ArrivedBody extends HttpServletRequestWrapper {

    private final Body body;
    private ServletInputStream stream;

    ArrivedBody(HttpServletRequest request, Body body) {
        super(request);
        this.body = body;
    }

    @Override
    public ServletInputStream getInputStream() throws IOException {
        if (stream == null) {
            stream = new Arrived(body.read());
        }
        return stream;
    }

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
}
