package org.gantrel.core.text;

import java.io.IOException;
import java.io.InputStream;
import java.io.Reader;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.Charset;
import java.nio.charset.CharsetDecoder;
import java.nio.charset.CoderResult;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.Objects;

/**
 * Reads text in a character set, UTF-8 (RFC 3629) where nothing else is said, and nothing else: bytes that are none fail with
 * the line that they stand in, instead of becoming other letters. A byte order mark before everything is left out.
 */
public final class StrictReader extends Reader {

    private static final int PIECE = 8_192;
    private static final char MARK = '\uFEFF';

    private final InputStream from;
    private final CharsetDecoder decoder;
    private final ByteBuffer bytes = ByteBuffer.allocate(PIECE).limit(0);
    private final CharBuffer letters = CharBuffer.allocate(PIECE).limit(0);
    private boolean begun;
    private boolean ended;
    private boolean wrong;
    private long line = 1;

    public StrictReader(InputStream from) {
        this(from, StandardCharsets.UTF_8);
    }

    public StrictReader(InputStream from, Charset charset) {
        this.from = from;
        decoder = charset.newDecoder()
                .onMalformedInput(CodingErrorAction.REPORT)
                .onUnmappableCharacter(CodingErrorAction.REPORT);
    }

    /** @throws IOException where what follows is none; the message names the line */
    @Override
    public int read(char[] into, int offset, int length) throws IOException {
        Objects.checkFromIndexSize(offset, length, into.length);
        if (length == 0) {
            return 0;
        }
        boolean more = true;
        while (more && !letters.hasRemaining()) {
            more = decode();
        }
        if (!letters.hasRemaining()) {
            return -1;
        }
        int read = Math.min(length, letters.remaining());
        letters.get(into, offset, read);
        for (int i = offset; i < offset + read; i++) {
            line += into[i] == '\n' ? 1 : 0;
        }
        return read;
    }

    /** Goes on by one step; false where there is no more. What stands before something wrong is read first. */
    private boolean decode() throws IOException {
        if (wrong) {
            throw new IOException(
                    "line " + line + " is not written in " + decoder.charset() + ", which is expected here");
        }
        letters.clear();
        CoderResult result = decoder.decode(bytes, letters, ended);
        wrong = result.isError();
        boolean nothing = result.isUnderflow() && letters.position() == 0;
        letters.flip();
        if (!begun && letters.hasRemaining()) {
            begun = true;
            letters.position(letters.get(0) == MARK ? 1 : 0);
        }
        if (nothing && ended) {
            return false;
        }
        if (nothing) {
            bytes.compact();
            int got = from.read(bytes.array(), bytes.position(), bytes.remaining());
            ended = got < 0;
            bytes.position(bytes.position() + Math.max(got, 0)).flip();
        }
        return true;
    }

    @Override
    public void close() throws IOException {
        from.close();
    }
}
