package org.gantrel.service.places;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.FileDescriptor;
import java.io.FileInputStream;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.util.List;
import tools.jackson.databind.json.JsonMapper;

/**
 * The program that works with files as another account. It reads requests from its input and answers on its output, one
 * after the other; each is a JSON text with its length before it, and a file's bytes come in pieces with their length
 * before each, until one of none. It ends with its input.
 */
public final class Helper {

    static final JsonMapper JSON = JsonMapper.shared();
    private static final int PIECE = 64 * 1024;
    /** What a list of files takes at most: whoever answers is not trusted with more of the other's memory. */
    private static final int LONGEST = 24 << 20;

    /** What is asked: the first says what may be reached, and each of the others what is to be done. */
    record Request(String verb, String path, String root, String to, String deed, List<String> globs, int deepest) {}

    /**
     * What is answered.
     *
     * @param fault what went wrong: missing, refused or other; empty where nothing did
     */
    record Answer(String fault, String message, boolean yes, List<Hands.Entry> entries) {}

    private final Hands hands;
    private final DataOutputStream out;

    private Helper(Hands hands, DataOutputStream out) {
        this.hands = hands;
        this.out = out;
    }

    public static void main(String[] arguments) throws IOException {
        var in = new DataInputStream(new BufferedInputStream(new FileInputStream(FileDescriptor.in)));
        var out = new DataOutputStream(new BufferedOutputStream(new FileOutputStream(FileDescriptor.out), PIECE));
        byte[] first = receive(in);
        if (first.length == 0) {
            return;
        }
        var helper = new Helper(new LocalHands(JSON.readValue(first, Reachable.class)), out);
        for (byte[] next = receive(in); next.length > 0; next = receive(in)) {
            helper.answer(JSON.readValue(next, Request.class));
            out.flush();
        }
    }

    /** A text with its length before it; none at the end of what is sent. */
    static byte[] receive(DataInputStream in) throws IOException {
        int length;
        try {
            length = in.readInt();
        } catch (EOFException e) {
            return new byte[0];
        }
        if (length < 0 || length > LONGEST) {
            throw new IOException("no message of the helper");
        }
        return in.readNBytes(length);
    }

    static void send(DataOutputStream out, Object message) throws IOException {
        byte[] text = JSON.writeValueAsBytes(message);
        out.writeInt(text.length);
        out.write(text);
    }

    private void answer(Request request) throws IOException {
        try {
            switch (request.verb()) {
                case "look" -> fine(true, List.of(hands.look(request.path())));
                case "folder" -> fine(hands.isFolder(request.path()), List.of());
                case "list" -> fine(true, hands.list(request.path(), request.globs(), request.deepest()));
                case "act" -> {
                    hands.act(Hands.Deed.valueOf(request.deed()), request.root(), request.path(), request.to());
                    fine(true, List.of());
                }
                default -> {
                    try (InputStream file = hands.open(request.path())) {
                        fine(true, List.of());
                        pour(file);
                    }
                }
            }
        } catch (NotReachable e) {
            send(out, new Answer("refused", e.getMessage(), false, List.of()));
        } catch (NoSuchFileException e) {
            send(out, new Answer("missing", e.getFile(), false, List.of()));
        } catch (IOException | RuntimeException | StackOverflowError e) {
            send(out, new Answer("other", sentence(e), false, List.of()));
        }
    }

    private void fine(boolean yes, List<Hands.Entry> entries) throws IOException {
        send(out, new Answer("", "", yes, entries));
    }

    /** Sends the bytes of a file. What goes wrong on the way ends the helper: an answer could not be told from a piece. */
    private void pour(InputStream file) {
        try {
            var piece = new byte[PIECE];
            for (int read = file.read(piece); read >= 0; read = file.read(piece)) {
                out.writeInt(read);
                out.write(piece, 0, read);
            }
            out.writeInt(0);
        } catch (IOException e) {
            Runtime.getRuntime().halt(1);
        }
    }

    /** What went wrong with a file, in a few words. */
    static String sentence(Throwable thrown) {
        if (thrown instanceof AccessDeniedException denied) {
            return "may not use " + denied.getFile();
        }
        if (thrown instanceof FileSystemException known && known.getReason() != null) {
            return known.getFile() + ": " + known.getReason();
        }
        return thrown.getMessage() == null ? thrown.toString() : thrown.getMessage();
    }
}
