package org.gantrel.service.execution;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.job.Command;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/** Starts commands as processes of their own session, which neither a signal to the service nor its end touches. */
@Component
class Launcher {

    /** What a command gets of the service's own environment; the rest may hold the service's secrets. */
    private static final Set<String> PASSED_ON =
            Set.of("PATH", "HOME", "USER", "LOGNAME", "LANG", "LC_ALL", "TZ", "TMPDIR");

    private final Settings settings;
    private final Path script;

    Launcher(Settings settings) throws IOException {
        this.settings = settings;
        this.script = settings.data().resolve("launch.sh");
        try (InputStream source = Launcher.class.getResourceAsStream("/execution/launch.sh")) {
            Files.copy(source, script, StandardCopyOption.REPLACE_EXISTING);
        }
        Files.createDirectories(settings.runsFolder());
    }

    RunFolder folder(long number) {
        return RunFolder.of(settings.runsFolder(), number);
    }

    /** Bytes that are free for logs. */
    long freeSpace() throws IOException {
        return Files.getFileStore(settings.runsFolder()).getUsableSpace();
    }

    /**
     * Starts a command.
     *
     * @param facts what the command is told of its run, as environment
     */
    Process launch(RunFolder folder, Command command, Map<String, String> facts) throws IOException {
        Files.createDirectories(folder.work());
        var line = new ArrayList<>(
                List.of("setsid", "/bin/sh", script.toString(), folder.path().toString()));
        line.addAll(command.arguments());
        var builder = new ProcessBuilder(line)
                .directory(
                        command.folder().isEmpty()
                                ? folder.work().toFile()
                                : Path.of(command.folder()).toFile())
                .redirectInput(ProcessBuilder.Redirect.from(Path.of("/dev/null").toFile()))
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .redirectError(ProcessBuilder.Redirect.appendTo(folder.log().toFile()));
        Map<String, String> environment = builder.environment();
        environment.keySet().retainAll(PASSED_ON);
        environment.putAll(facts);
        environment.putAll(command.environment());
        return builder.start();
    }

    /** Sends a signal to a command and all that it started. */
    void signal(ProcessMark process, String signal) throws IOException {
        new ProcessBuilder("/bin/sh", "-c", "kill -" + signal + " -" + process.pid())
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
    }
}
