package org.gantrel.service.places;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.gantrel.service.beside.CharacterSet;

/** Works with files as another account, through a {@link Helper} that runs as it while it is needed. */
public final class HelperHands implements Hands {

    private final Process helper;
    private final DataInputStream in;
    private final DataOutputStream out;

    /**
     * Starts a helper.
     *
     * @param prefix what stands before a command so that it runs as the account
     */
    public HelperHands(List<String> prefix, Reachable reach) throws IOException {
        var line = new ArrayList<>(prefix);
        line.addAll(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-Xmx96m",
                "-XX:+UseSerialGC",
                "-XX:TieredStopAtLevel=1",
                "-cp",
                System.getProperty("java.class.path"),
                Helper.class.getName()));
        var builder = new ProcessBuilder(line).directory(Path.of("/").toFile());
        builder.redirectError(ProcessBuilder.Redirect.DISCARD);
        builder.environment().keySet().retainAll(CharacterSet.and("PATH"));
        helper = builder.start();
        in = new DataInputStream(new BufferedInputStream(helper.getInputStream()));
        out = new DataOutputStream(new BufferedOutputStream(helper.getOutputStream()));
        Helper.send(out, reach);
    }

    private Helper.Answer ask(Helper.Request request) throws IOException {
        byte[] answer;
        try {
            Helper.send(out, request);
            out.flush();
            answer = Helper.receive(in);
        } catch (IOException e) {
            answer = new byte[0];
        }
        if (answer.length == 0) {
            throw new IOException("the account that the job acts as cannot run the service's helper for files");
        }
        Helper.Answer found = Helper.JSON.readValue(answer, Helper.Answer.class);
        switch (found.fault()) {
            case "" -> {
                return found;
            }
            case "missing" -> throw new NoSuchFileException(found.message());
            case "refused" -> throw new NotReachable(found.message());
            default -> throw new IOException(found.message());
        }
    }

    private static Helper.Request about(String verb, String path) {
        return new Helper.Request(verb, path, "", "", "", List.of(), 0);
    }

    @Override
    public Entry look(String file) throws IOException {
        return ask(about("look", file)).entries().get(0);
    }

    @Override
    public InputStream open(String file) throws IOException {
        ask(about("read", file));
        return new Pieces();
    }

    @Override
    public boolean isFolder(String folder) throws IOException {
        return ask(about("folder", folder)).yes();
    }

    @Override
    public List<Entry> list(String folder, List<String> globs, int deepest) throws IOException {
        return ask(new Helper.Request("list", folder, "", "", "", globs, deepest))
                .entries();
    }

    @Override
    public void act(Deed deed, String root, String path, String to) throws IOException {
        ask(new Helper.Request("act", path, root, to, deed.name(), List.of(), 0));
    }

    @Override
    public void close() {
        helper.destroyForcibly();
    }

    /** A file as it comes, piece by piece; what is left of it is passed over when it is closed. */
    private final class Pieces extends InputStream {

        private int left;
        private boolean ended;

        private boolean more() throws IOException {
            if (left == 0 && !ended) {
                left = in.readInt();
                ended = left == 0;
            }
            return !ended;
        }

        @Override
        public int read() throws IOException {
            var one = new byte[1];
            return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
        }

        @Override
        public int read(byte[] into, int offset, int length) throws IOException {
            if (length == 0) {
                return 0;
            }
            if (!more()) {
                return -1;
            }
            int read = in.read(into, offset, Math.min(length, left));
            if (read < 0) {
                throw new IOException("the helper broke off");
            }
            left -= read;
            return read;
        }

        @Override
        public void close() throws IOException {
            var rest = new byte[8_192];
            int read = ended ? -1 : 0;
            while (read >= 0) {
                read = read(rest, 0, rest.length);
            }
        }
    }
}
