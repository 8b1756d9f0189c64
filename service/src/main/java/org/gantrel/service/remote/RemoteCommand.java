package org.gantrel.service.remote;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Duration;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.Optional;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.text.Words;
import org.gantrel.service.execution.Elsewhere.Listener;
import org.gantrel.service.execution.Elsewhere.Order;
import org.gantrel.service.execution.InProcess;
import org.gantrel.service.execution.RunFolder;
import org.gantrel.service.execution.TaskResult;
import org.gantrel.service.places.FoldersToRead;
import org.gantrel.service.time.Stopwatch;

/**
 * One command on another host, from its start to its end. The host's own folder of the run says how far it is; the log is
 * fetched from where the log here ends. So it does not matter how often the connection or this service go away meanwhile.
 */
final class RemoteCommand implements InProcess.UnderWay {

    private static final Duration LONGEST_ABSENCE = Duration.ofHours(1);
    private static final Duration LONGEST_ABSENCE_WHEN_STOPPED = Duration.ofMinutes(2);
    private static final Duration LONGEST_SILENCE = Duration.ofMinutes(1);
    private static final Duration SETTLING = Duration.ofMinutes(10);
    private static final long SHORTEST_PAUSE_MILLIS = 100;
    private static final long LONGEST_PAUSE_MILLIS = 2_000;
    private static final long LONGEST_ABSENCE_PAUSE_MILLIS = 10_000;
    private static final int MOST_LOOKS = 3;
    private static final int MOST_AT_ONCE = 1 << 20;
    private static final int MOST_ERRORS = 256 << 10;

    private enum Wish {
        STOP,
        SETTLE
    }

    /** What the host says of the command. */
    private record Standing(
            String state, String code, long secondsAgo, long size, String folder, long from, byte[] log) {

        private static Standing parse(long from, byte[] answer) throws IOException {
            int end = 0;
            while (end < answer.length && answer[end] != '\n') {
                end++;
            }
            String[] words = new String(answer, 0, end, StandardCharsets.UTF_8).split(" ", 5);
            if (words.length < 5 || !words[2].matches("-?\\d{1,12}") || !words[3].matches("\\d{1,18}")) {
                throw new IOException("the host's shell answered '" + String.join(" ", words) + "'");
            }
            byte[] log = end < answer.length ? Arrays.copyOfRange(answer, end + 1, answer.length) : new byte[0];
            return new Standing(
                    words[0], words[1], Long.parseLong(words[2]), Long.parseLong(words[3]), words[4], from, log);
        }

        private boolean hasFolder() {
            return !folder.equals("-");
        }

        private boolean isGoing() {
            return state.equals("going") || state.equals("claimed");
        }
    }

    private final Order order;
    private final RemoteScript script;
    private final RemoteHosts hosts;
    private final Listener listener;
    private final Stopwatch watch;
    private final Clock clock;
    private final BlockingQueue<Wish> wishes = new LinkedBlockingQueue<>();
    private volatile RemoteFiles looked;
    private RemoteHost host;
    private boolean sent;
    private boolean isTaken;
    private int stops;
    private int told;
    private boolean begun;
    private int looks;
    private boolean isCutShort;
    /** How long the host has not answered; null where that is not so, like the two that follow. */
    private Supplier<Duration> silent;

    /** How long ago it was asked to stop. */
    private Supplier<Duration> stopped;

    /** How long nobody has said who claimed the command. */
    private Supplier<Duration> claimed;

    private String refused = "";

    RemoteCommand(
            Order order, RemoteScript script, RemoteHosts hosts, Listener listener, Stopwatch watch, Clock clock) {
        this.watch = watch;
        this.order = order;
        this.script = script;
        this.hosts = hosts;
        this.listener = listener;
        this.clock = clock;
    }

    @Override
    public void stop() {
        wishes.add(Wish.STOP);
        leaveFiles();
    }

    /** What it left is looked at no longer: the host may take any time for that. */
    private void leaveFiles() {
        RemoteFiles files = looked;
        if (files != null) {
            files.leave();
        }
    }

    @Override
    public void settled() {
        wishes.add(Wish.SETTLE);
    }

    void work() {
        host = hosts.take(order.host());
        try {
            TaskResult end = begin();
            if (refused.isEmpty()) {
                listener.ended(end);
            } else {
                listener.refused(refused);
            }
            if (sent && isSettled() && silent == null) {
                clean();
            }
        } catch (InterruptedException e) {
            // the service stops; the next one finds the command again
            Thread.currentThread().interrupt();
        } catch (IOException e) {
            // its folder stays there, which does no harm
            silent = watch.begin();
        } finally {
            hosts.giveBack(order.host());
        }
    }

    /** Whether its end is written down here; a stop that came too late for it changes nothing. */
    private boolean isSettled() throws InterruptedException {
        Wish wish;
        do {
            wish = wishes.poll(SETTLING.toSeconds(), TimeUnit.SECONDS);
        } while (wish == Wish.STOP);
        return wish == Wish.SETTLE;
    }

    /** Removes its folder there. */
    private void clean() throws IOException, InterruptedException {
        for (int tries = 1; ; tries++) {
            try {
                host.run(script.clean());
                return;
            } catch (IOException e) {
                if (tries == MOST_LOOKS) {
                    throw e;
                }
                wishes.poll(LONGEST_ABSENCE_PAUSE_MILLIS, TimeUnit.MILLISECONDS);
            }
        }
    }

    private TaskResult begin() throws InterruptedException {
        try {
            // until that is read, an earlier service may have sent it
            sent = true;
            Optional<String> earlier = sentTo();
            sent = earlier.isPresent();
            if (sent && !earlier.get().equals(address(order.host()))) {
                return TaskResult.failed("the credential was changed from " + earlier.get() + " to "
                        + address(order.host()) + " while it was under way; it may still run there");
            }
            order.log().resume();
            return follow();
        } catch (IOException | RuntimeException e) {
            // whatever it is, the run must not be left without an end
            String why = String.valueOf(e.getMessage() == null ? e : e.getMessage());
            return sent ? TaskResult.failed(why) : notStarted(why);
        }
    }

    private TaskResult follow() throws IOException, InterruptedException {
        long pause = SHORTEST_PAUSE_MILLIS;
        while (true) {
            try {
                Optional<TaskResult> end = look();
                if (end.isPresent()) {
                    return end.get();
                }
                listener.goesOn();
                signal();
                pause = Math.min(pause * 3 / 2, LONGEST_PAUSE_MILLIS);
            } catch (HostRefused e) {
                throw sent ? new HostRefused(e.getMessage() + "; the command may still run there") : e;
            } catch (IOException e) {
                if (!sent) {
                    throw e;
                }
                listener.goesOn();
                Optional<TaskResult> given = absent(e);
                if (given.isPresent()) {
                    return given.get();
                }
                pause = Math.min(pause * 2, LONGEST_ABSENCE_PAUSE_MILLIS);
            }
            if (wishes.poll(pause, TimeUnit.MILLISECONDS) == Wish.STOP) {
                stops++;
                stopped = stopped == null ? watch.begin() : stopped;
                pause = SHORTEST_PAUSE_MILLIS;
            }
        }
    }

    private Optional<TaskResult> absent(IOException cause) {
        if (silent == null) {
            silent = watch.begin();
            listener.news(cause.getMessage() + "; it goes on there, and is looked for");
        }
        Duration away = silent.get();
        boolean isGivenUp = stops > 0
                ? shorter(away, stopped.get()).compareTo(LONGEST_ABSENCE_WHEN_STOPPED) >= 0
                : away.compareTo(LONGEST_ABSENCE) >= 0;
        return isGivenUp
                ? Optional.of(TaskResult.failed(host.host() + " has not answered for "
                        + Words.duration(away.truncatedTo(ChronoUnit.SECONDS))
                        + "; whether the command still runs there is not known"))
                : Optional.empty();
    }

    private static Duration shorter(Duration one, Duration other) {
        return one.compareTo(other) < 0 ? one : other;
    }

    /** Asks the host how far the command is, and does what follows from that. */
    private Optional<TaskResult> look() throws IOException, InterruptedException {
        Standing standing = ask(0);
        while (standing.log().length > 0) {
            order.log().add(standing.from(), standing.log());
            // it may say things faster than they are brought here, and must be told what is wished of it all the same
            boolean isWished = told < stops || !wishes.isEmpty();
            if (standing.log().length < MOST_AT_ONCE || standing.isGoing() && isWished) {
                break;
            }
            standing = ask(standing.size());
        }
        if (silent != null) {
            silent = null;
            listener.news(host.host() + " answers again");
        }
        begun = standing.state().equals("going");
        if (!standing.state().equals("absent")) {
            markTaken();
        }
        return switch (standing.state()) {
            // a launcher that lives may still begin it, however long that takes
            case "going", "claimed" -> Optional.empty();
            case "unsure" -> claimed();
            case "ended" -> Optional.of(ended(standing, Files.exists(heard())));
            case "stopped" -> Optional.of(ended(standing, true));
            case "absent" -> launch(standing);
            default -> Optional.of(aftermath(standing));
        };
    }

    /** @param size how many bytes its log had there when that was asked last; none where it was not */
    private Standing ask(long size) throws IOException, InterruptedException {
        long from = order.log().next(size);
        return Standing.parse(
                from,
                host.run(Script.of(script.poll(from, MOST_AT_ONCE)), MOST_AT_ONCE + RemoteHost.SHORT_ANSWER)
                        .output());
    }

    /** A command that a service of before has claimed says soon which process it is; nobody knows who claimed it. */
    private Optional<TaskResult> claimed() {
        claimed = claimed == null ? watch.begin() : claimed;
        return claimed.get().compareTo(LONGEST_SILENCE) < 0
                ? Optional.empty()
                : Optional.of(
                        TaskResult.failed("it was begun on " + host.host() + " and never said which process it is"));
    }

    private Optional<TaskResult> launch(Standing standing) throws IOException, InterruptedException {
        // one that has been taken, and whose launcher has not said so yet, has a folder
        if (!order.log().isEmpty() || !standing.hasFolder() && Files.exists(taken())) {
            return Optional.of(
                    TaskResult.failed("its folder on " + host.host() + " is gone; how far it came is not known"));
        }
        if (stops > 0) {
            return Optional.of(TaskResult.NOTHING);
        }
        markSent();
        RemoteHost.Answer answer = host.run(script.launch(order), RemoteHost.SHORT_ANSWER);
        if (answer.code() == 0) {
            markTaken();
            return Optional.empty();
        }
        return Optional.of(
                answer.code() == RemoteScript.COMPLAINT
                        ? notStarted("on " + host.host() + " " + answer.text())
                        : TaskResult.failed("not started: on " + host.host() + " the shell there ended with the code "
                                + answer.code() + ": " + answer.errors()));
    }

    /** Nothing was begun, so that it may be tried again like any other start that could not be made. */
    private TaskResult notStarted(String why) {
        refused = why;
        return TaskResult.NOTHING;
    }

    /** Tells the command of a stop that it has not been told of, as soon as there is somebody to be told. */
    private void signal() throws IOException, InterruptedException {
        if (begun && told < stops) {
            int wished = stops;
            RemoteHost.Answer answer = host.run(script.signal(wished == 1 ? "TERM" : "KILL"));
            if (answer.text().equals(RemoteScript.HEARD)) {
                // the host knows as well, unless its disk was full
                Files.writeString(heard(), "");
            }
            told = wished;
        }
    }

    /** Marks that it was told to stop, for a later service as well. */
    private Path heard() {
        return order.folder().path().resolve("told");
    }

    private TaskResult ended(Standing standing, boolean wasTold) throws IOException, InterruptedException {
        if (order.errorsApart()) {
            Files.write(
                    order.folder().errors(),
                    host.run(script.errors(MOST_ERRORS)).output());
        }
        byte[] result = host.run(script.result(RunFolder.LARGEST_RESULT + 1)).output();
        if (result.length > 0) {
            Files.write(order.folder().result(), result);
        }
        TaskResult found = aftermath(standing);
        Path written = order.folder().path().resolve("exit.new");
        Files.writeString(written, standing.code() + "\n");
        Files.setLastModifiedTime(
                written, FileTime.from(clock.instant().minusSeconds(Math.max(0, standing.secondsAgo()))));
        Files.move(written, order.folder().path().resolve("exit"), StandardCopyOption.REPLACE_EXISTING);
        return isCutShort || wasTold ? found : found.beforeToldToStop();
    }

    private TaskResult aftermath(Standing standing) throws IOException, InterruptedException {
        String given = order.command().folder();
        String own = standing.folder() + (order.source().isPresent() ? "/source" : "/work");
        String folder = given.startsWith("/") ? given : given.isEmpty() ? own : own + "/" + given;
        TaskResult found;
        try {
            found = order.leavesFiles()
                    ? host.withFiles(files -> aftermath(files, folder))
                    : order.aftermath().at(FoldersToRead.NOWHERE, folder);
        } catch (IOException e) {
            boolean isStopped = !wishes.isEmpty();
            isCutShort |= isStopped;
            if (!isStopped && ++looks < MOST_LOOKS) {
                throw e;
            }
            found = TaskResult.NOTHING.without(
                    isStopped
                            ? "it was stopped while what it left was looked at"
                            : "what it left cannot be looked at: " + e.getMessage());
        }
        String lost = order.log().trouble();
        return lost.isEmpty() ? found : found.without(lost);
    }

    private TaskResult aftermath(RemoteFiles files, String folder) throws IOException {
        looked = files;
        try {
            if (!wishes.isEmpty()) {
                leaveFiles();
            }
            return order.aftermath().at(files.below(folder), folder);
        } finally {
            looked = null;
        }
    }

    private Optional<String> sentTo() throws IOException {
        Path mark = mark();
        return Files.exists(mark) ? Optional.of(Files.readString(mark).strip()) : Optional.empty();
    }

    private void markSent() throws IOException {
        Files.writeString(mark(), address(order.host()) + "\n");
        sent = true;
    }

    private Path mark() {
        return order.folder().path().resolve("sent");
    }

    /** Marks that the host has taken the command, for a later service as well: what is gone there then is not begun again. */
    private void markTaken() throws IOException {
        if (!isTaken) {
            Files.writeString(taken(), "");
            isTaken = true;
        }
    }

    private Path taken() {
        return order.folder().path().resolve("taken");
    }

    private static String address(Credential credential) {
        String port = credential.fact("port");
        return credential.identity() + (port.isEmpty() ? "" : ":" + port);
    }
}
