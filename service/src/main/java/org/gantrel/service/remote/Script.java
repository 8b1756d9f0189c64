package org.gantrel.service.remote;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Enumeration;
import java.util.List;
import java.util.function.Supplier;

/** Lines for a shell, with files among them. Files are read while it is sent, piece by piece: they may be large, and many. */
final class Script {

    private static final int LINE = 76;

    /** A whole number of lines; three bytes are four signs. */
    private static final int PIECE = LINE / 4 * 3 * 1_000;

    private final List<Supplier<InputStream>> parts = new ArrayList<>();
    private final StringBuilder text = new StringBuilder();

    static Script of(String text) {
        return new Script().add(text);
    }

    /** Adds lines, or parts of them. */
    Script add(String more) {
        text.append(more);
        return this;
    }

    /** Adds what a file holds, in lines of base64 (RFC 2045, 6.8), whatever bytes it has. */
    Script add(Path file) {
        parts.add(textSoFar());
        parts.add(() -> {
            try {
                return new Lines(Files.newInputStream(file));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
        return this;
    }

    private Supplier<InputStream> textSoFar() {
        byte[] bytes = text.toString().getBytes(StandardCharsets.UTF_8);
        text.setLength(0);
        return () -> new ByteArrayInputStream(bytes);
    }

    /** All of it, as it is to be read. */
    InputStream open() {
        var all = new ArrayList<>(parts);
        all.add(() -> new ByteArrayInputStream(text.toString().getBytes(StandardCharsets.UTF_8)));
        var each = all.iterator();
        return new SequenceInputStream(new Enumeration<>() {
            @Override
            public boolean hasMoreElements() {
                return each.hasNext();
            }

            @Override
            public InputStream nextElement() {
                return each.next().get();
            }
        });
    }

    /** A file in lines of base64. */
    private static final class Lines extends InputStream {

        private final InputStream file;
        private byte[] lines = new byte[0];
        private int at;

        Lines(InputStream file) {
            this.file = file;
        }

        private boolean isOver() throws IOException {
            if (at == lines.length) {
                byte[] piece = file.readNBytes(PIECE);
                if (piece.length == 0) {
                    return true;
                }
                lines = (Base64.getMimeEncoder(LINE, new byte[] {'\n'}).encodeToString(piece) + "\n")
                        .getBytes(StandardCharsets.ISO_8859_1);
                at = 0;
            }
            return false;
        }

        @Override
        public int read() throws IOException {
            return isOver() ? -1 : lines[at++];
        }

        @Override
        public int read(byte[] bytes, int from, int most) throws IOException {
            if (most == 0 || isOver()) {
                return most == 0 ? 0 : -1;
            }
            int some = Math.min(most, lines.length - at);
            System.arraycopy(lines, at, bytes, from, some);
            at += some;
            return some;
        }

        @Override
        public void close() throws IOException {
            file.close();
        }
    }
}
