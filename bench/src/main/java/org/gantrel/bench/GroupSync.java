package org.gantrel.bench;

import java.sql.Connection;
import java.sql.SQLException;

/** Forces commits to the disk, one force for all who wait: what no durable start can do without. */
final class GroupSync {

    private long asked;
    private long forced;
    private boolean forcing;

    void sync(Connection connection) throws SQLException {
        long upTo;
        synchronized (this) {
            long mine = ++asked;
            while (forcing && forced < mine) {
                try {
                    wait();
                } catch (InterruptedException e) {
                    throw new SQLException(e);
                }
            }
            if (forced >= mine) {
                return;
            }
            forcing = true;
            upTo = asked;
        }
        connection.createStatement().execute("checkpoint sync");
        synchronized (this) {
            forcing = false;
            forced = upTo;
            notifyAll();
        }
    }
}
