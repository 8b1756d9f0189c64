package org.gantrel.core.job;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.expression.Bindings;

/**
 * What is kept of that which a task leaves behind.
 *
 * @param files the declared files and folders
 * @param keep how long they are kept; for ever where nothing is said
 */
public record Outputs(List<Output> files, Optional<Duration> keep) {

    public static final Outputs NONE = new Outputs(List.of(), Optional.empty());

    /** The largest output that is kept where nothing is said, in bytes. */
    public static final long USUAL_SIZE = 50_000_000;

    /**
     * A declared output.
     *
     * @param name what it is called among the run's outputs
     * @param path the file or folder, from the task's working folder; it may hold expressions
     * @param atMost the largest size in bytes that is kept
     */
    public record Output(String name, String path, long atMost) {

        /** What an output is called that nobody has named: as the last part of its path. */
        public static String usualName(String path) {
            return path.replaceFirst(".*/(?=.)", "");
        }

        public Output fill(Bindings known) {
            return new Output(known.fill(name), known.fill(path), atMost);
        }
    }

    public Outputs {
        files = List.copyOf(files);
    }
}
