package org.gantrel.service.durable;

import java.nio.file.Path;

/** Where the service's own records are, and how H2 is to keep them. */
public final class DatabaseUrl {

    private static final int STATEMENTS_KEPT = 64;

    private DatabaseUrl() {}

    /**
     * The address of a database.
     *
     * @param layer a layer of H2's file system to go through, such as {@code cut:}; empty for none
     */
    public static String of(String layer, Path file) {
        // each commit is written at once (WRITE_DELAY=0) until Durability sees to that. A thread that is
        // interrupted while it writes would close the file for everybody: 'retry' opens it again (H2,
        // FilePathRetryOnInterrupt). Of the eight statements a connection keeps parsed by itself, nearly none is met
        // again; of many, each transaction that writes looks through all.
        return "jdbc:h2:" + layer + "retry:" + file
                + ";WRITE_DELAY=0;DB_CLOSE_ON_EXIT=FALSE;CACHE_SIZE=32768;QUERY_CACHE_SIZE=" + STATEMENTS_KEPT;
    }
}
