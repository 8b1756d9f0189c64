package org.gantrel.service.database;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.ParameterMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.concurrent.Executor;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** A connection to a database, and what belongs to it, within the process that has them. */
final class Session implements Executor {

    static final String CONNECT = "#connect";
    static final String ROWS = "#rows";
    static final String WITH = "#with";
    static final String BATCH = "#batch";

    /** What is seen of the objects of a driver, the more special before the more general. */
    private static final List<Class<?>> FACES = List.of(
            Connection.class,
            PreparedStatement.class,
            Statement.class,
            ResultSet.class,
            ResultSetMetaData.class,
            ParameterMetaData.class,
            DatabaseMetaData.class,
            Savepoint.class);

    private static final Map<Class<?>, Map<String, Method>> METHODS = methods();

    /** An object of the driver. */
    private static final class Held {
        private final Object thing;
        private final Class<?> face;
        private RowPages pages;

        private Held(Object thing, Class<?> face) {
            this.thing = thing;
            this.face = face;
        }
    }

    private final Map<Integer, Held> objects = new HashMap<>();
    private final ExecutorService thread;
    private int last;

    Session(int number) {
        thread = Executors.newSingleThreadExecutor(work -> {
            var fresh = new Thread(work, "connection-" + number);
            fresh.setDaemon(true);
            return fresh;
        });
    }

    private static Map<Class<?>, Map<String, Method>> methods() {
        var all = new HashMap<Class<?>, Map<String, Method>>();
        for (Class<?> face : FACES) {
            var of = new HashMap<String, Method>();
            for (Method method : face.getMethods()) {
                of.put(signature(method), method);
            }
            all.put(face, of);
        }
        return all;
    }

    /** The name of a method, with the types of what it is given. */
    static String signature(Method method) {
        var text = new StringBuilder(method.getName()).append('(');
        for (Class<?> each : method.getParameterTypes()) {
            text.append(text.charAt(text.length() - 1) == '(' ? "" : ",").append(each.getName());
        }
        return text.append(')').toString();
    }

    /** What a face is called from one process to the other. */
    static Class<?> face(String name) throws IOException {
        return FACES.stream()
                .filter(each -> each.getSimpleName().equals(name))
                .findFirst()
                .orElseThrow(() -> new IOException("nothing is seen as " + name));
    }

    @Override
    public void execute(Runnable work) {
        thread.execute(work);
    }

    /** Nothing more is asked of it. */
    void end() {
        thread.shutdown();
    }

    /** Does what is asked; what came of it may be large, and is not put together. */
    List<ByteArrayOutputStream> answer(DatabaseProgram.Call call) throws IOException {
        var bytes = new ByteArrayOutputStream();
        var out = new DataOutputStream(bytes);
        try {
            if (call.what().equals(ROWS)) {
                out.writeByte('v');
                var parts = new ArrayList<>(List.of(bytes));
                parts.addAll(pages(held(call.target())).next());
                return parts;
            }
            Object answer = done(call);
            out.writeByte('v');
            Values.write(out, answer);
        } catch (SQLException e) {
            trouble(bytes, e);
        } catch (DriverMissing e) {
            bytes.reset();
            out.writeByte('m');
            Values.text(out, e.getMessage());
        } catch (RuntimeException | Error | ReflectiveOperationException e) {
            // whatever a driver does, somebody waits for an answer
            trouble(bytes, new SQLException(String.valueOf(e.getMessage() == null ? e : e.getMessage())));
        }
        return List.of(bytes);
    }

    private static void trouble(ByteArrayOutputStream bytes, SQLException e) throws IOException {
        bytes.reset();
        var out = new DataOutputStream(bytes);
        out.writeByte('e');
        Values.writeTrouble(out, e);
    }

    private Object done(DatabaseProgram.Call call) throws SQLException, IOException, ReflectiveOperationException {
        if (call.what().equals(CONNECT)) {
            return seen(connect(call.given()), Connection.class);
        }
        if (call.endsSession()) {
            return closed();
        }
        Held held = held(call.target());
        switch (call.what()) {
            case WITH -> {
                set((PreparedStatement) held.thing, (Object[]) call.given()[1]);
                return invoke(held, (String) call.given()[0], new Object[0]);
            }
            case BATCH -> {
                var statement = (PreparedStatement) held.thing;
                for (int i = 1; i < call.given().length; i++) {
                    set(statement, (Object[]) call.given()[i]);
                    statement.addBatch();
                }
                return (Boolean) call.given()[0] ? statement.executeBatch() : null;
            }
            default -> {
                Object[] given = call.given();
                for (int i = 0; i < given.length; i++) {
                    given[i] = given[i] instanceof Values.Ref ref ? held(ref.id()).thing : given[i];
                }
                Object answer = invoke(held, call.what(), given);
                if (call.what().equals("close()")) {
                    forget(call.target());
                }
                return answer;
            }
        }
    }

    private Connection connect(Object[] given) throws SQLException, IOException {
        var properties = new Properties();
        for (int i = 2; i + 1 < given.length; i += 2) {
            properties.setProperty((String) given[i], (String) given[i + 1]);
        }
        return DriverFolder.connect((String) given[0], (String) given[1], properties);
    }

    private Object closed() throws SQLException {
        Held connection;
        synchronized (objects) {
            connection = objects.get(1);
            objects.clear();
        }
        if (connection != null) {
            ((Connection) connection.thing).close();
        }
        return null;
    }

    private static RowPages pages(Held held) throws SQLException {
        if (held.pages == null) {
            held.pages = new RowPages((ResultSet) held.thing);
        }
        return held.pages;
    }

    /** @param values what a statement is given: in turn a setter, and what it is called with */
    private static void set(PreparedStatement statement, Object[] values)
            throws SQLException, ReflectiveOperationException {
        for (Object each : values) {
            Object[] one = (Object[]) each;
            invoke(METHODS.get(PreparedStatement.class).get((String) one[0]), statement, (Object[]) one[1]);
        }
    }

    private Object invoke(Held held, String what, Object[] given) throws SQLException, ReflectiveOperationException {
        Method method = METHODS.get(held.face).get(what);
        Object answer = invoke(method, held.thing, given);
        return seen(answer, method.getReturnType());
    }

    private static Object invoke(Method method, Object thing, Object[] given)
            throws SQLException, ReflectiveOperationException {
        if (method == null) {
            throw new SQLException("this cannot be asked of a database");
        }
        try {
            return method.invoke(thing, given);
        } catch (InvocationTargetException e) {
            if (e.getCause() instanceof SQLException trouble) {
                throw trouble;
            }
            if (e.getCause() instanceof Error error) {
                throw error;
            }
            if (e.getCause() instanceof RuntimeException fault) {
                throw fault;
            }
            throw e;
        }
    }

    private Held held(int id) throws SQLException {
        synchronized (objects) {
            Held held = objects.get(id);
            if (held == null) {
                throw new SQLException("it is closed");
            }
            return held;
        }
    }

    private void forget(int id) {
        synchronized (objects) {
            objects.remove(id);
        }
    }

    /**
     * What is sent of an answer: objects of the driver stay here, and go by their number.
     *
     * @param declared what the method says that it gives
     */
    private Object seen(Object answer, Class<?> declared) {
        Optional<Class<?>> face = faceOf(answer, declared);
        if (face.isEmpty()) {
            return answer;
        }
        synchronized (objects) {
            objects.put(++last, new Held(answer, face.get()));
            return new Values.Ref(last, face.get().getSimpleName());
        }
    }

    /** What an object is seen as; there are drivers whose rows are what is known of their columns as well. */
    static Optional<Class<?>> faceOf(Object answer, Class<?> declared) {
        return answer != null && FACES.contains(declared)
                ? Optional.of(declared)
                : FACES.stream().filter(each -> each.isInstance(answer)).findFirst();
    }
}
