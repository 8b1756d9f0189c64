package org.gantrel.service.run;

import java.nio.file.Path;
import java.util.List;

/** Where the log of a run is, for those who read it; the executor knows. */
public interface RunLogs {

    /** A piece of a log, masked, and where the next one begins. */
    record Piece(String text, long from, long to) {}

    /** How many bytes the log has by now. */
    long size(long number);

    /**
     * A piece of the log that begins at a byte and holds whole lines; the rest of an unfinished line is left for later
     * unless the try has ended.
     */
    Piece read(Run run, int attempt, long from, int mostBytes);

    /** The last lines of the log, masked, as far as they stand in its last few thousand bytes. */
    List<String> lastLines(Run run, int most);

    /** The folder of what a run left behind and is kept; it need not be there. */
    Path outputs(long number);
}
