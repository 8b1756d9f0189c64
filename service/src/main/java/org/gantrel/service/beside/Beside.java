package org.gantrel.service.beside;

import java.io.File;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.TimeZone;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Starts programs of this one in processes of their own, beside the service. How much memory what comes from outside takes is
 * for whoever sends it to say; what it takes there, it takes from nobody else.
 */
public final class Beside {

    /** What such a process ends with where it needs more memory than it may have. */
    public static final int OUT_OF_MEMORY = 3;

    private static final Logger LOG = LoggerFactory.getLogger(Beside.class);

    private Beside() {}

    /**
     * One that was started.
     *
     * @param beginning over as soon as its first word has come
     */
    public record Started(Process process, Beginning beginning) {}

    /**
     * Starts one. It reads what it is to do from its input, and answers by its output, where it says first that it is there.
     *
     * @param program a class with a main method
     * @param memory the most that it may take for what it reads, in MB
     * @param temporary a folder for what it needs for a moment only
     * @param more options for the Java machine
     */
    public static Started start(Class<?> program, int memory, Path temporary, List<String> more) throws IOException {
        var line = new ArrayList<String>();
        line.add(ProcessHandle.current().info().command().orElse("java"));
        line.addAll(List.of(
                "-Xms16m",
                "-Xmx" + memory + "m",
                "-Xss512k",
                "-XX:+UseSerialGC",
                "-XX:TieredStopAtLevel=1",
                "-XX:+ExitOnOutOfMemoryError",
                "-XX:-CreateCoredumpOnCrash",
                "-XX:-UsePerfData",
                "-Xlog:disable",
                "-Djava.io.tmpdir=" + temporary,
                "-Duser.timezone=" + TimeZone.getDefault().getID()));
        line.addAll(more);
        // whom the service trusts, by which ways it goes out, and what else its administrator said of Java, hold here
        // too
        ManagementFactory.getRuntimeMXBean().getInputArguments().stream()
                .filter(each ->
                        each.matches("(?s)-D(?!java\\.io\\.tmpdir=|spring\\.).*|--add-(opens|exports|modules)=.*"))
                .forEach(line::add);
        line.addAll(List.of("-cp", classPath(), program.getName()));
        var builder = new ProcessBuilder(line).redirectError(ProcessBuilder.Redirect.DISCARD);
        // what the service was told by its environment is not for this
        builder.environment().keySet().retainAll(CharacterSet.and("PATH", "HOME", "TZ"));
        var beginning = new Beginning();
        try {
            Process process = builder.start();
            goesFirst(process);
            return new Started(process, beginning);
        } catch (IOException e) {
            beginning.over();
            throw e;
        }
    }

    /** Where memory runs out, the host ends this one before the service, as it does jobs (proc_pid_oom_score_adj(5)). */
    private static void goesFirst(Process process) {
        try {
            Files.writeString(Path.of("/proc/" + process.pid() + "/oom_score_adj"), "300");
        } catch (IOException e) {
            LOG.debug("the host does not let process {} go first: {}", process.pid(), e.toString());
        }
    }

    private static String classPath() {
        StringBuilder path = new StringBuilder();
        for (String each : System.getProperty("java.class.path").split(File.pathSeparator)) {
            path.append(path.isEmpty() ? "" : File.pathSeparator)
                    .append(Path.of(each).toAbsolutePath());
        }
        return path.toString();
    }
}
