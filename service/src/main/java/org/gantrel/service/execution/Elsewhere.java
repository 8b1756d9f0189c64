package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.action.Command;
import org.gantrel.core.credential.Credential;
import org.gantrel.service.places.FoldersToRead;

/** Runs commands on other hosts, where they outlive both the connection and this service. */
public interface Elsewhere {

    /**
     * A command for another host.
     *
     * @param name of the run and its try, which no other has
     * @param host where, and as whom there
     * @param command every expression worked out
     * @param environment what the command is told, its own variables and its secrets too
     * @param covered what must not be readable in its log
     * @param errorsApart whether its error stream is kept in a file of its own as well
     * @param input what it reads
     * @param files what it is given, by the variable that names each file to it
     * @param source the files of a repository, which it finds in a folder of its own
     * @param folder where its exit code and what else it left are brought to
     * @param log where its log is brought to
     * @param leavesFiles whether the aftermath looks at the folder that the command worked in
     * @param aftermath looks through what it left in that folder
     */
    record Order(
            String name,
            Credential host,
            Command command,
            Map<String, String> environment,
            List<String> covered,
            boolean errorsApart,
            String input,
            Map<String, Path> files,
            Optional<Source> source,
            RunFolder folder,
            FetchedLog log,
            boolean leavesFiles,
            Look aftermath) {}

    /** Files of a repository. @param packed a tar @param said the lines that its log begins with */
    record Source(Path packed, List<String> said) {}

    /** Looks through what a command left. */
    @FunctionalInterface
    interface Look {
        /**
         * @param there the files of the host
         * @param worked the folder there that the command worked in
         */
        TaskResult at(FoldersToRead there, String worked) throws IOException;
    }

    /** Is told of a command, from another thread. */
    interface Listener {
        /** Something that belongs into the run's timeline. */
        void news(String text);

        /** It has not ended, or its host does not say now; told as often as it is looked at. */
        void goesOn();

        /** How it ended; told once. */
        void ended(TaskResult found);

        /** Why it could not be begun, which is then certain; told instead of an end. */
        void refused(String why);
    }

    /** Starts a command unless an earlier service has started it, follows it to its end, and comes back at once. */
    InProcess.UnderWay begin(Order order, Listener listener) throws IOException;

    /** What would keep a command from starting there; nothing where it could. */
    Optional<String> complaint(Credential host, Command command);
}
