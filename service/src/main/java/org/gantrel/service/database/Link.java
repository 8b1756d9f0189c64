package org.gantrel.service.database;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.Properties;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicBoolean;

/** A connection that a process beside the service has: what belongs to it is seen from here as if it were here. */
final class Link {

    /** Signing in is waited for so long. */
    private static final Duration SIGN_IN = Duration.ofSeconds(30);

    private final DatabaseProcess process;
    private final LargeRows room;
    private final int session;
    private final Duration patience;
    private final Set<FarRows> rows = ConcurrentHashMap.newKeySet();
    private final AtomicBoolean closed = new AtomicBoolean();

    private Link(DatabaseProcess process, LargeRows room, Duration patience) {
        this.patience = patience;
        this.process = process;
        this.room = room;
        this.session = process.session();
    }

    /**
     * Opens one.
     *
     * @param patience how long each answer of it is waited for
     * @param drivers the folder of further drivers
     */
    static Connection open(
            DatabaseProcess process,
            LargeRows room,
            Duration patience,
            String url,
            String drivers,
            Properties properties)
            throws SQLException {
        var link = new Link(process, room, patience);
        Object[] given = new Object[2 + 2 * properties.size()];
        given[0] = url;
        given[1] = drivers;
        int place = 2;
        for (String name : properties.stringPropertyNames()) {
            given[place++] = name;
            given[place++] = properties.getProperty(name);
        }
        process.opens();
        boolean opened = false;
        try {
            Object connection = process.ask(SIGN_IN, link.session, 0, Session.CONNECT, given);
            if (!(connection instanceof Values.Ref ref && link.seen(ref) instanceof Connection found)) {
                throw new SQLException("its driver does not take this address");
            }
            opened = true;
            return found;
        } finally {
            if (!opened) {
                link.close();
            }
        }
    }

    /** Asks something; what stays in the process is seen from here. */
    Object ask(int target, String what, Object... given) throws SQLException {
        if (closed.get()) {
            throw new SQLException("the connection is closed");
        }
        try {
            Object answer = process.ask(patience, session, target, what, given);
            return answer instanceof Values.Ref ref ? seen(ref) : answer;
        } catch (DatabaseProcess.Lost e) {
            // what is under way there may go on, and nothing that is asked after it would be answered
            close();
            throw e;
        }
    }

    private Object seen(Values.Ref ref) throws SQLException {
        Class<?> face;
        try {
            face = Session.face(ref.face());
        } catch (IOException e) {
            throw process.broken(e);
        }
        if (face == ResultSet.class) {
            var fresh = new FarRows(this, ref, room);
            rows.add(fresh);
            return fresh.seen(face);
        }
        return Statement.class.isAssignableFrom(face)
                ? new FarStatement(this, ref).seen(face)
                : new Far(this, ref).seen(face);
    }

    ByteBuffer rows(int most, int target) throws SQLException {
        try {
            return process.rows(patience, most, session, target);
        } catch (DatabaseProcess.Lost e) {
            close();
            throw e;
        }
    }

    SQLException broken(Exception e) {
        return process.broken(e);
    }

    /** Has something done without waiting for it. */
    void tell(int target, String what) {
        process.tell(session, target, what);
    }

    /** Leaves it at once, whatever is under way there. */
    void abort() {
        process.leave(session);
        close();
    }

    void forget(FarRows gone) {
        rows.remove(gone);
    }

    boolean isClosed() {
        return closed.get();
    }

    /** Closes it, without waiting for what may still be under way there. */
    void close() {
        if (closed.compareAndSet(false, true)) {
            rows.forEach(FarRows::letGo);
            process.tell(session, 0, DatabaseProgram.Call.END);
            process.closes();
        }
    }
}
