package org.gantrel.service.durable;

import java.sql.Connection;
import java.sql.SQLException;
import javax.sql.DataSource;
import org.h2.engine.SessionLocal;
import org.h2.jdbc.JdbcConnection;
import org.h2.mvstore.MVStore;
import org.h2.mvstore.MVStoreException;
import org.springframework.jdbc.datasource.DataSourceUtils;
import org.springframework.stereotype.Component;

/**
 * Forces what is committed to the disk. H2 hands a commit to the operating system, which a power cut may take away again,
 * unless its file is forced. That costs milliseconds, so one is made for many: who comes while one is being made
 * waits for the next, and shares it with all who came meanwhile.
 */
@Component
public class Durability {

    /** No writing at each commit, where others may be in the middle of a change, and none by a thread of the database's own. */
    static final int BY_CALL = -1;

    private static final ThreadLocal<Boolean> LATER = new ThreadLocal<>();

    private final DataSource database;
    private final Collapse collapse;
    private final Apart apart;
    private volatile MVStore store;
    private final Object turn = new Object();
    private long asked;
    private long forced;
    private boolean forcing;

    Durability(DataSource database, Collapse collapse, Apart apart) {
        this.apart = apart;
        this.database = database;
        this.collapse = collapse;
    }

    /** Comes back when all that was committed before the call would outlast a power cut. */
    public void sync() {
        long mine;
        synchronized (turn) {
            mine = ++asked;
            while (forcing) {
                await();
                if (forced >= mine) {
                    return;
                }
            }
            if (forced >= mine) {
                return;
            }
            forcing = true;
            mine = asked;
        }
        boolean done = false;
        try {
            force();
            done = true;
        } finally {
            synchronized (turn) {
                forcing = false;
                if (done) {
                    forced = Math.max(forced, mine);
                }
                turn.notifyAll();
            }
        }
    }

    private void await() {
        try {
            turn.wait();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("interrupted while the disk was waited for", e);
        }
    }

    private void force() {
        MVStore now = store();
        commit(now);
        now.sync();
    }

    private void commit(MVStore now) {
        try {
            apart.write(now::commit);
        } catch (MVStoreException e) {
            look();
            throw e;
        }
    }

    /** Whether the database has closed itself after a write that failed; says so where it has. */
    public boolean look() {
        MVStore now = store;
        MVStoreException why = now == null ? null : now.getPanicException();
        if (why != null) {
            collapse.say(String.valueOf(why.getMessage()));
        }
        return why != null;
    }

    /**
     * Hands all that is committed to the operating system, so that it outlasts the service's death. Each transaction does so
     * at its end, but for those of a thread that does it by itself.
     */
    public void write() {
        if (LATER.get() == null) {
            commit(store());
        }
    }

    /** From now on this thread calls {@link #sync()} or {@link #writeNow()} when several of its transactions are over. */
    public void writesLater() {
        LATER.set(true);
    }

    /** The same as {@link #write()}, for a thread that does it by itself. */
    public void writeNow() {
        commit(store());
    }

    private MVStore store() {
        MVStore now = store;
        if (now == null || now.isClosed()) {
            // closed where no connection was left, as it should be; or by itself, and then nothing may follow any more
            if (look()) {
                throw new IllegalStateException("the database has closed itself; the service begins again");
            }
            now = open();
            store = now;
        }
        // each new connection sets it as its address says; then the database would write at each commit by itself
        if (now.getAutoCommitDelay() != BY_CALL) {
            now.setAutoCommitDelay(BY_CALL);
        }
        return now;
    }

    /** What a connection's database keeps its maps in. */
    static MVStore store(Connection connection) throws SQLException {
        var session = (SessionLocal) connection.unwrap(JdbcConnection.class).getSession();
        return session.getDatabase().getStore().getMvStore();
    }

    private MVStore open() {
        // the connection of the transaction under way, where there is one: another might be waited for in vain
        Connection connection = DataSourceUtils.getConnection(database);
        try {
            return store(connection);
        } catch (SQLException e) {
            throw new IllegalStateException("what is committed cannot be forced to the disk: " + e.getMessage(), e);
        } finally {
            DataSourceUtils.releaseConnection(connection, database);
        }
    }
}
