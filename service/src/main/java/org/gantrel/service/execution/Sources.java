package org.gantrel.service.execution;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.credential.Credential;
import org.gantrel.service.places.FilesToRead;
import org.gantrel.service.places.Hands;

/** Takes files from repositories. */
public interface Sources {

    /**
     * Who asks.
     *
     * @param team whose job it is
     * @param account whose rights a path on this host is read with
     * @param credentials opens a credential by its name
     * @param hands reads with those rights
     * @param stopped whether nobody wants it any more
     */
    record Asking(
            String team,
            String account,
            Function<String, Credential> credentials,
            HandsSource hands,
            BooleanSupplier stopped) {}

    /** Gives what reads files of this host. */
    @FunctionalInterface
    interface HandsSource {
        Hands open() throws IOException;
    }

    /** A repository at one of its states. */
    interface Taken extends FilesToRead, AutoCloseable {

        /** The commit, as its 40 digits. */
        String commit();

        /** When it was made. */
        Instant made();

        /** Which state it is, in words. */
        String words();

        /** Why it is only the state that was known; empty where the repository answered. */
        String old();

        /** Paths of what it names and does not hold, such as other repositories. */
        List<String> leftOut() throws IOException;

        /** Whether a file of it is a program; nothing where there is no such file. */
        Optional<Boolean> isProgram(String path) throws IOException;

        /** The paths of its files. */
        List<String> paths() throws IOException;

        /** Writes its files into an empty folder that nobody else may enter. */
        void layOut(Path folder) throws IOException;

        /** Writes its files as a packed tar (POSIX.1-2017, pax; RFC 1952). */
        void pack(OutputStream to) throws IOException;

        @Override
        void close();
    }

    /**
     * A repository at the state that is asked for; its own copy is brought up to date first.
     *
     * @param source every expression worked out
     * @throws IOException where it cannot be had; the message is for people
     */
    Taken take(GitSource source, Asking asking) throws IOException, InterruptedException;
}
