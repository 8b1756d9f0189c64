package org.gantrel.service.durable;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import javax.sql.DataSource;
import org.springframework.stereotype.Component;

/**
 * Forces what is committed to the disk. H2 hands a commit to the operating system, which a power cut may take away again;
 * {@code CHECKPOINT SYNC} forces it. That costs milliseconds, so one is made for many: who comes while one is being made
 * waits for the next, and shares it with all who came meanwhile.
 */
@Component
public class Durability {

    private final DataSource database;
    private final Object turn = new Object();
    private long asked;
    private long forced;
    private boolean forcing;

    Durability(DataSource database) {
        this.database = database;
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
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("checkpoint sync");
        } catch (SQLException e) {
            throw new IllegalStateException("what is committed cannot be forced to the disk: " + e.getMessage(), e);
        }
    }
}
