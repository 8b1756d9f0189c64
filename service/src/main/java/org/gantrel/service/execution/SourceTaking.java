package org.gantrel.service.execution;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import java.util.function.Function;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.job.Job;
import org.gantrel.core.text.Words;
import org.springframework.stereotype.Component;

/** Brings commands the files that they take from repositories. */
@Component
public class SourceTaking {

    /** The value of a run that says which state it took. */
    public static final String VALUE = SourceFolder.VALUE;

    /** The most bytes that are brought to another host, packed. */
    private static final long MOST_SENT = 20_000_000;

    private static final int MOST_NAMED = 20;

    private final Sources sources;
    private final Actors actors;
    private final AccountHands hands;

    SourceTaking(Sources sources, Actors actors, AccountHands hands) {
        this.sources = sources;
        this.actors = actors;
        this.hands = hands;
    }

    /**
     * A repository as a task asks for it.
     *
     * @param source every expression worked out
     * @param credentials opens a credential of the task
     * @throws IOException where it cannot be had; the message is for people
     */
    public Sources.Taken take(
            Job.Task task, GitSource source, Function<String, Credential> credentials, BooleanSupplier stopped)
            throws IOException, InterruptedException {
        Account account = actors.account(task).orElse(actors.own());
        return sources.take(
                source,
                new Sources.Asking(
                        task.team(), account.name(), credentials, () -> hands.of(task.team(), task), stopped));
    }

    /**
     * A command and what it takes.
     *
     * @param command where its files are on this host, it works there
     * @param source the files for another host
     * @param isStopped whether nobody wants it any more
     */
    record Brought(Command command, Optional<Elsewhere.Source> source, boolean isStopped) {}

    /** Takes what a command takes, and brings it to where it finds it. @param here whether it runs on this host */
    Brought bring(Attempt attempt, Command command, boolean here, Consumer<String> news)
            throws IOException, InterruptedException {
        if (command.from().isEmpty()) {
            return new Brought(command, Optional.empty(), false);
        }
        refuseLeaving(command);
        Command placed = here ? here(attempt, command, news) : command;
        Optional<Elsewhere.Source> source = here ? Optional.empty() : Optional.of(packed(attempt, command, news));
        // it may have taken its time
        boolean stopped = attempt.wanted().isPresent() && !attempt.folder().isClaimed();
        return new Brought(placed, source, stopped);
    }

    /** The command where its files are on this host, which they are when this comes back. */
    private Command here(Attempt attempt, Command command, Consumer<String> news)
            throws IOException, InterruptedException {
        Optional<Account> account = actors.account(attempt.task());
        try (Sources.Taken taken = take(attempt, command)) {
            SourceFolder.remove(attempt.folder(), account);
            Path folder = SourceFolder.make(attempt.folder(), taken, account);
            say(attempt, taken, news);
            return command.in(folder.toString());
        }
    }

    /** The files for a command on another host, packed into the run's folder. */
    private Elsewhere.Source packed(Attempt attempt, Command command, Consumer<String> news)
            throws IOException, InterruptedException {
        Path packed = SourceFolder.packed(attempt.folder());
        if (SourceFolder.of(attempt.folder()).isPresent()) {
            // a service of before has brought it
            return new Elsewhere.Source(packed, List.of());
        }
        try (Sources.Taken taken = take(attempt, command)) {
            Files.createDirectories(packed.getParent());
            try (OutputStream stream = Files.newOutputStream(packed)) {
                taken.pack(stream);
            }
            if (Files.size(packed) > MOST_SENT) {
                Files.delete(packed);
                throw new IOException("its files have more than " + MOST_SENT
                        + " bytes even packed, which is the most that is brought to another host");
            }
            SourceFolder.note(attempt.folder(), taken.commit());
            // the log here holds as much as was fetched of that there, and nothing else
            List<String> said = said(taken);
            said.forEach(news);
            return new Elsewhere.Source(packed, said);
        }
    }

    /** By an expression, a path may lead out of what is taken only when it is worked out. */
    private static void refuseLeaving(Command command) throws IOException {
        for (String path : List.of(command.folder(), command.broughtProgram())) {
            if (!path.startsWith("/") && !GitSource.isWithin(path)) {
                throw new IOException("'" + path + "' leaves the files that are taken from the repository");
            }
        }
    }

    private Sources.Taken take(Attempt attempt, Command command) throws IOException, InterruptedException {
        return take(
                attempt.task(),
                command.from().orElseThrow(),
                name -> actors.open(name, attempt.task(), attempt.run()),
                () -> attempt.wanted().isPresent());
    }

    private static void say(Attempt attempt, Sources.Taken taken, Consumer<String> news) throws IOException {
        for (String line : said(taken)) {
            news.accept(line);
            Files.writeString(
                    attempt.folder().log(), line + "\n", StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        }
    }

    /** What there is to say of files that were taken, one thing a line. */
    public static List<String> said(Sources.Taken taken) throws IOException {
        List<String> names = taken.leftOut();
        String left = names.isEmpty()
                ? ""
                : "; other repositories within it are not brought: "
                        + Words.list(names.subList(0, Math.min(names.size(), MOST_NAMED)))
                        + (names.size() > MOST_NAMED ? " and " + (names.size() - MOST_NAMED) + " more" : "");
        return taken.old().isEmpty()
                ? List.of("took " + taken.words() + left)
                : List.of(taken.old() + "; the state of before is taken", "took " + taken.words() + left);
    }
}
