package org.gantrel.service.database;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.sql.DriverManager;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executor;
import org.gantrel.service.beside.ForeignObjects;

/**
 * Works on databases in a process of its own, for a {@link DatabaseProcess}: it has the drivers, and what they take of memory.
 * Each connection has a thread; what is asked of it is done in order.
 */
public final class DatabaseProgram {

    /** The number of an answer that nobody has asked for: it is there. */
    private static final int HELLO = 0;

    private final Map<Integer, Session> sessions = new ConcurrentHashMap<>();
    private final DataOutputStream out;

    private DatabaseProgram(OutputStream out) {
        this.out = new DataOutputStream(new BufferedOutputStream(out));
    }

    /** Does what comes by the input until that ends. */
    public static void main(String[] arguments) {
        ForeignObjects.refuse();
        OutputStream answers = System.out;
        // a driver may say what it likes: it is none of the answers
        System.setOut(new PrintStream(OutputStream.nullOutputStream(), true, StandardCharsets.UTF_8));
        var program = new DatabaseProgram(answers);
        // their drivers are loaded before anybody waits for a database
        DriverManager.drivers().count();
        try (var in = new DataInputStream(new BufferedInputStream(System.in))) {
            program.write(HELLO, List.of());
            while (true) {
                byte[] frame = new byte[in.readInt()];
                in.readFully(frame);
                program.hear(Call.read(frame));
            }
        } catch (IOException e) {
            // whoever asked has gone
            Runtime.getRuntime().halt(0);
        }
    }

    private void hear(Call call) {
        Session session = sessions.computeIfAbsent(call.session(), Session::new);
        Executor where = call.isUrgent() ? DatabaseProgram::aside : session;
        if (call.endsSession()) {
            sessions.remove(call.session());
        }
        where.execute(() -> answer(call, session));
    }

    private static void aside(Runnable work) {
        var thread = new Thread(work, "aside");
        thread.setDaemon(true);
        thread.start();
    }

    private void answer(Call call, Session session) {
        try {
            write(call.number(), session.answer(call));
        } catch (IOException e) {
            Runtime.getRuntime().halt(0);
        } finally {
            if (call.endsSession()) {
                session.end();
            }
        }
    }

    private void write(int number, List<ByteArrayOutputStream> parts) throws IOException {
        synchronized (out) {
            out.writeInt(Integer.BYTES
                    + parts.stream().mapToInt(ByteArrayOutputStream::size).sum());
            out.writeInt(number);
            for (ByteArrayOutputStream part : parts) {
                part.writeTo(out);
            }
            out.flush();
        }
    }

    /**
     * Something that is asked.
     *
     * @param number by which its answer is known
     * @param session the connection that it belongs to
     * @param target the number of the object that it is asked of
     * @param what the name of a method, with the types of what it is given, or a wish that begins with a hash
     */
    record Call(int number, int session, int target, String what, Object[] given) {

        private static final String CANCEL = "cancel()";
        static final String END = "#end";

        boolean isUrgent() {
            return what.equals(CANCEL);
        }

        boolean endsSession() {
            return what.equals(END);
        }

        byte[] bytes() throws IOException {
            var bytes = new ByteArrayOutputStream();
            var call = new DataOutputStream(bytes);
            call.writeInt(number);
            call.writeInt(session);
            call.writeInt(target);
            Values.text(call, what);
            Values.write(call, given);
            return bytes.toByteArray();
        }

        static Call read(byte[] frame) throws IOException {
            ByteBuffer in = ByteBuffer.wrap(frame);
            return new Call(in.getInt(), in.getInt(), in.getInt(), Values.text(in), (Object[]) Values.read(in));
        }
    }
}
