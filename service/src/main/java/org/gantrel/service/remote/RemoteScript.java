package org.gantrel.service.remote;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.action.Command;
import org.gantrel.core.text.ShellText;
import org.gantrel.service.execution.Elsewhere.Order;
import org.gantrel.service.execution.Mask;

/**
 * What a POSIX shell of another host is given to read. All values stand in it quoted: it comes by standard input, so that no
 * list of processes shows it.
 *
 * @param folder the run's folder there, as a shell reads it
 */
record RemoteScript(String folder) {

    /** The code of a script that has something to complain of, which stands on its output. */
    static final int COMPLAINT = 66;

    /** What a script says that has sent a signal to a command. */
    static final String HEARD = "heard";

    private static final String LAUNCHER = launcher();
    private static final String END = "END_OF_LAUNCHER";
    /** No line of base64 holds an underscore. */
    private static final String END_OF_FILE = "END_OF_FILE";

    /** @param installation tells this service's runs from those of others that use the same account */
    static RemoteScript of(String installation, String name) {
        return new RemoteScript("\"${XDG_STATE_HOME:-$HOME/.local/state}\"/gantrel/" + installation + "/" + name);
    }

    /** Complains of a command that cannot start. */
    static String check(Command command) {
        return check(command, ShellText.quote(command.arguments().get(0)));
    }

    /** @param quoted the program, as a shell reads it */
    private static String check(Command command, String quoted) {
        String program = command.arguments().get(0);
        String there = command.folder().isEmpty() ? "" : " in " + command.folder();
        var lines = new StringBuilder("complain() { printf '%s\\n' \"$1\"; exit " + COMPLAINT + "; }\n");
        if (!command.folder().isEmpty()) {
            lines.append("cd -- %s 2>/dev/null || complain %s\n"
                    .formatted(
                            ShellText.quote(command.folder()),
                            ShellText.quote("there is no folder " + command.folder() + " that may be entered")));
        }
        if (program.contains("/")) {
            lines.append("[ -e %s ] || complain %s\n"
                    .formatted(quoted, ShellText.quote("there is no program " + program + there)));
            lines.append("[ -x %s ] && [ ! -d %s ] || complain %s\n"
                    .formatted(quoted, quoted, ShellText.quote(program + " may not be executed")));
        } else {
            lines.append("command -v -- %s >/dev/null 2>&1 || complain %s\"$PATH\"')'\n"
                    .formatted(
                            quoted, ShellText.quote("there is no program '" + program + "' in the folders of PATH (")));
        }
        lines.append("command -v setsid >/dev/null 2>&1 || complain 'there is no setsid(1), which is needed'\n");
        return lines.toString();
    }

    /** The most bytes that are brought to a host for one run, all files together. */
    private static final long MOST_BROUGHT = 10_000_000;

    /** Brings files, each to a folder of its own; base64 (RFC 4648) holds whatever bytes a file has. */
    private static void bring(Map<String, Path> files, Script script) throws IOException {
        long all = 0;
        for (Map.Entry<String, Path> each : files.entrySet()) {
            all += Files.size(each.getValue());
            if (all > MOST_BROUGHT) {
                throw new IOException("the outputs of earlier steps have more than " + MOST_BROUGHT
                        + " bytes together, which is the most that is brought to another host");
            }
            String folder = "$folder/files/" + each.getKey();
            String name = ShellText.quote(each.getValue().getFileName().toString());
            script.add("mkdir -p -- \"%s\" || exit\n".formatted(folder));
            script.add("base64 -d >\"%s\"/%s <<'%s' || exit\n".formatted(folder, name, END_OF_FILE));
            script.add(each.getValue()).add(END_OF_FILE + "\n");
            script.add("export %s=\"%s\"/%s\n".formatted(each.getKey(), folder, name));
        }
    }

    /** Unpacks the files of a repository, and enters their folder; gives the program as a shell reads it. */
    private static String unpack(Order order, Script script) {
        script.add("command -v tar >/dev/null 2>&1 || { echo 'there is no tar(1), which is needed'; exit " + COMPLAINT
                + "; }\n");
        script.add("mkdir -p -- \"$folder/source\" && cd -- \"$folder/source\" || exit\n");
        script.add("base64 -d <<'%s' | tar -xzf - || exit\n".formatted(END_OF_FILE));
        script.add(order.source().orElseThrow().packed()).add(END_OF_FILE + "\n");
        for (String line : order.source().get().said()) {
            script.add("printf '%s\\n' " + ShellText.quote(line) + " >>\"$folder/log\"\n");
        }
        script.add("export GANTREL_SOURCE=\"$folder/source\"\n");
        Command command = order.command();
        String quoted = ShellText.quote(command.arguments().get(0));
        return command.bringsProgram() && !command.worksInSource()
                ? "\"$folder/source\"/" + ShellText.quote(command.broughtProgram())
                : quoted;
    }

    /** Starts a command, once however often it is sent. */
    Script launch(Order order) throws IOException {
        var exported = new LinkedHashMap<>(order.environment());
        Script script = Script.of("umask 077\nfolder=" + folder + "\n");
        script.add("[ -e \"$folder/claim\" ] && exit 0\n");
        script.add("mkdir -p -- \"$folder/work\" || exit\n");
        script.add("cat >\"$folder/launch.sh\" <<'" + END + "' || exit\n" + LAUNCHER + END + "\n");
        bring(order.files(), script);
        script.add("cd -- \"$folder/work\"\n");
        String program = ShellText.quote(order.command().arguments().get(0));
        if (order.source().isPresent()) {
            program = unpack(order, script);
        }
        script.add(check(order.command(), program));
        exported.put("GANTREL_MASK", Mask.lines(order.covered()));
        exported.put("GANTREL_ERRORS", order.errorsApart() ? "apart" : "");
        exported.put("GANTREL_INPUT", order.input());
        script.add("export GANTREL_RESULT=\"$folder/result.json\"\n");
        exported.forEach((name, value) -> script.add("export " + name + "=" + ShellText.quote(value) + "\n"));
        List<String> arguments = order.command().arguments();
        script.add("setsid /bin/sh \"$folder/launch.sh\" \"$folder\" " + program + " "
                + ShellText.quote(arguments.subList(1, arguments.size()))
                + " </dev/null >/dev/null 2>>\"$folder/log\" &\n");
        return script;
    }

    /**
     * Says how far the command is, in one line of five words, and then what its log holds from a place on: state, exit code,
     * seconds since it ended, how much log follows, the run's folder. One that has ended after it was told to stop has
     * stopped.
     */
    String poll(long from, int most) {
        // it has ended when the shell around it has, which sees to the last of the log; that is looked at before the
        // log
        return """
                folder=%s
                cd -- "$folder" 2>/dev/null || { echo absent - 0 0 -; exit 0; }
                %s
                code=- ago=0
                if alive; then
                    if [ -f process ]; then state=going; else state=claimed; fi
                elif [ -f exit ]; then state=ended
                elif [ -f process ] || [ -f claim ]; then state=lost
                elif [ -e claim ]; then state=unsure
                else state=absent
                fi
                if [ $state = ended ]; then
                    read -r code <exit
                    ago=$(($(date +%%s) - $(stat -c %%Y exit)))
                    [ -e told ] && state=stopped
                fi
                size=$(wc -c <log 2>/dev/null || echo 0)
                echo "$state" "$code" "$ago" $size "$PWD"
                [ -f log ] && tail -c +%d log | head -c %d
                exit 0
                """
                .formatted(folder, ALIVE, from + 1, most);
    }

    /**
     * Sends a signal to the command and all that it started, and says so unless the command itself was over. That is noted
     * there as well: the answer may be lost on its way.
     */
    String signal(String signal) {
        return """
                cd -- %s || exit
                %s
                if [ -f process ] && alive; then
                    [ -f exit ] || { true 2>/dev/null >told; echo %s; }
                    kill -%s -"$pid"
                fi
                exit 0
                """
                .formatted(folder, ALIVE, HEARD, signal);
    }

    /** The beginning of the error stream, where it is kept apart. */
    String errors(int most) {
        return "head -c %d -- %s/errors 2>/dev/null\nexit 0\n".formatted(most, folder);
    }

    /** What it left as its results, as far as that is taken. */
    String result(int most) {
        return "[ -f %s/result.json ] && [ ! -L %s/result.json ] && head -c %d -- %s/result.json\nexit 0\n"
                .formatted(folder, folder, most, folder);
    }

    /** Removes the run's folder. */
    String clean() {
        return "rm -rf -- " + folder + "\n";
    }

    /**
     * The number alone may be given to another process later; with the start time it is sure (proc(5)). One that has ended may
     * stand there for long where nobody asks how: it is in the state Z.
     */
    private static final String ALIVE =
            """
            alive() {
                { [ -f claim ] && read -r pid mark <claim; } 2>/dev/null || read -r pid mark 2>/dev/null <process || return 1
                read -r line 2>/dev/null <"/proc/$pid/stat" || return 1
                set -- ${line##*) }
                [ "${20}" = "$mark" ] && [ "$1" != Z ] && [ "$1" != X ]
            }""";

    private static String launcher() {
        try (InputStream source = Order.class.getResourceAsStream("/execution/launch.sh")) {
            return new String(source.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
