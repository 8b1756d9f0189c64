package org.gantrel.service.git;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import org.gantrel.core.action.GitSource;
import tools.jackson.databind.json.JsonMapper;

/**
 * How the service and a {@link GitProgram} speak: frames, each a letter, the length of what follows (4 bytes, the highest
 * first), and that.
 */
final class Talk {

    /** To the service: that it is there. */
    static final char HELLO = 'h';
    /** To the program: what is wanted, as JSON. */
    static final char ASK = 'q';
    /** To the service: what came of it, as JSON. */
    static final char ANSWER = 'a';
    /** To the service: a line to be run on the host of the credential. */
    static final char RUN = 'r';
    /** Both ways: what that line's program says, and what it is told. */
    static final char DATA = 'd';
    /** To the program: what that line's program says on its error stream. */
    static final char ERROR = 'e';
    /** To the program: that it has ended, with its exit code; to the service: that nobody wants it any more. */
    static final char ENDED = 'x';

    private static final int LARGEST = 20_000_000;

    private final DataInputStream in;
    private final DataOutputStream out;

    Talk(InputStream in, OutputStream out) {
        this.in = new DataInputStream(in);
        this.out = new DataOutputStream(out);
    }

    /** What is wanted of a copy. */
    enum Wish {
        /** Brings it up to date. */
        BRING,
        /** Says whether anything of it is known. */
        KNOWN,
        /** Writes down one of its states, as a {@link Snapshot}. */
        STATE,
        /** Puts together what many looks have left. */
        TIDY
    }

    /**
     * What is wanted.
     *
     * @param folder of the copy
     * @param address where it is asked for; not the source's own where a name was judged
     * @param headers of each request
     */
    record Ask(Wish wish, String folder, GitSource source, String address, Map<String, String> headers) {}

    /**
     * What came of it.
     *
     * @param trouble a sentence for people; empty where all is well
     * @param refused whether asking again would change nothing
     * @param known whether anything is known
     * @param commit the state, as its 40 digits; empty where none was wanted
     */
    record Answer(String trouble, boolean refused, boolean known, String commit) {
        static Answer fine() {
            return new Answer("", false, true, "");
        }
    }

    record Frame(char kind, byte[] bytes) {
        <T> T as(Class<T> type) {
            return JsonMapper.shared().readValue(bytes, type);
        }

        String text() {
            return new String(bytes, StandardCharsets.UTF_8);
        }
    }

    void say(char kind, Object what) throws IOException {
        say(kind, JsonMapper.shared().writeValueAsBytes(what));
    }

    void say(char kind, String text) throws IOException {
        say(kind, text.getBytes(StandardCharsets.UTF_8));
    }

    void say(char kind, byte[] bytes) throws IOException {
        say(kind, bytes, 0, bytes.length);
    }

    synchronized void say(char kind, byte[] bytes, int from, int length) throws IOException {
        out.writeByte(kind);
        out.writeInt(length);
        out.write(bytes, from, length);
        out.flush();
    }

    /** The next frame; null where the other side has gone. */
    Frame hear() throws IOException {
        int kind = in.read();
        if (kind < 0) {
            return null;
        }
        int length = in.readInt();
        if (length < 0 || length > LARGEST) {
            throw new IOException("a frame of " + length + " bytes");
        }
        byte[] bytes = in.readNBytes(length);
        if (bytes.length < length) {
            throw new EOFException();
        }
        return new Frame((char) kind, bytes);
    }
}
