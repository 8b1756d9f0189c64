package org.gantrel.service.work;

import java.io.IOException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.execution.SourceTaking;
import org.gantrel.service.execution.Sources;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.work.ActionExecutor.Rehearsed;
import org.gantrel.service.work.ActionExecutor.Rehearsing;

/** Says what would be taken from a repository, and whether what is to be done with it can be. */
final class SourceRehearsal {

    private static final String WHAT = "repository";

    /** Somebody waits for the answer, and others for the thread that asks. */
    private static final Duration LONGEST = Duration.ofSeconds(20);

    private SourceRehearsal() {}

    /** The files that would be taken; null where there are none, or where it is said why they cannot be had. */
    static Sources.Taken take(Optional<GitSource> from, Rehearsing around, List<Rehearsed> found) {
        if (from.isEmpty()) {
            return null;
        }
        try {
            Sources.Taken taken = around.sources().open(from.get().within(LONGEST), () -> false);
            SourceTaking.said(taken).forEach(line -> found.add(Rehearsed.does(WHAT, line.replaceFirst("^took ", ""))));
            return taken;
        } catch (IOException | Refusal e) {
            found.add(Rehearsed.wrong(WHAT, e.getMessage()));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            found.add(Rehearsed.untried(WHAT, "it was interrupted"));
        }
        return null;
    }

    /**
     * Looks whether a command's program and folder are among the files that it takes.
     *
     * @param command every expression worked out
     */
    static void look(Command command, Rehearsing around, List<Rehearsed> found) {
        try (Sources.Taken taken = take(command.from(), around, found)) {
            if (taken == null) {
                return;
            }
            List<String> paths = taken.paths();
            String folder = command.folder();
            if (command.worksInSource() && !folder.isEmpty() && !isFolder(folder, paths)) {
                found.add(Rehearsed.wrong(
                        "folder", "the repository has no folder " + folder + Nearest.hint(folder, folders(paths))));
            } else if (command.bringsProgram()) {
                program(command.broughtProgram(), taken, paths, found);
            }
        } catch (IOException e) {
            found.add(Rehearsed.wrong(WHAT, e.getMessage()));
        }
    }

    private static void program(String program, Sources.Taken taken, List<String> paths, List<Rehearsed> found)
            throws IOException {
        Optional<Boolean> known = taken.isProgram(program);
        if (known.isEmpty()) {
            found.add(
                    Rehearsed.wrong("program", "the repository has no file " + program + Nearest.hint(program, paths)));
        } else if (!known.get()) {
            found.add(Rehearsed.wrong(
                    "program",
                    program + " is not executable in the repository; 'git update-index --chmod=+x " + program
                            + "' and a commit make it so"));
        } else {
            found.add(Rehearsed.fine("program", program + " is there"));
        }
    }

    private static boolean isFolder(String folder, List<String> paths) {
        String below = folder.replaceFirst("/*$", "/");
        return paths.stream().anyMatch(path -> path.startsWith(below));
    }

    private static List<String> folders(List<String> paths) {
        return paths.stream()
                .filter(path -> path.contains("/"))
                .map(path -> path.replaceFirst("/[^/]*$", ""))
                .distinct()
                .toList();
    }
}
