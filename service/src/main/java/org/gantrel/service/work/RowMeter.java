package org.gantrel.service.work;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;

/**
 * A file of rows of which each may be so long: readers hold a row in memory, and a file without an end of line would be one
 * row for them, however large it is.
 */
final class RowMeter extends FilterInputStream {

    /** The longest row, in bytes. */
    static final int LONGEST = 5_000_000;

    private long since;

    RowMeter(InputStream rows) {
        super(rows);
    }

    /** A row was taken. */
    void taken() {
        since = 0;
    }

    private void count(long read) throws IOException {
        since += Math.max(0, read);
        if (since > LONGEST) {
            throw new IOException("a row has more than " + LONGEST + " bytes");
        }
    }

    @Override
    public int read() throws IOException {
        int read = super.read();
        count(read < 0 ? 0 : 1);
        return read;
    }

    @Override
    public int read(byte[] into, int from, int most) throws IOException {
        int read = super.read(into, from, most);
        count(read);
        return read;
    }

    @Override
    public boolean markSupported() {
        return false;
    }
}
