package org.gantrel.service.database;

import java.sql.SQLException;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;

/** The memory of the service for rows of more than a megabyte, which all who read such rows share. */
final class LargeRows {

    private static final int PATIENCE_SECONDS = 60;

    private final Semaphore room = new Semaphore(Cell.MOST + RowPages.LARGE, true);

    /** Takes room for so many bytes, and waits for others who have it. */
    int take(int bytes) throws SQLException {
        try {
            if (bytes < 0 || !room.tryAcquire(bytes, PATIENCE_SECONDS, TimeUnit.SECONDS)) {
                throw new SQLException("others hold rows that are so large that there was no room for one of " + bytes
                        + " bytes within " + PATIENCE_SECONDS + " s");
            }
            return bytes;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new SQLException("it was stopped while it waited for room");
        }
    }

    void give(int bytes) {
        room.release(bytes);
    }
}
