package org.gantrel.service.work;

import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Item;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.run.Progress;
import org.gantrel.core.run.RunState;
import org.gantrel.service.execution.Mask;
import org.gantrel.service.execution.RunFolder;
import org.gantrel.service.execution.SourceTaking;
import org.gantrel.service.execution.Sources;
import org.gantrel.service.places.FilesToRead;
import org.gantrel.service.places.Hands;
import org.gantrel.service.run.Run;

/** One piece of work in this process while it is under way: its log, its outputs, whom it acts as. */
final class Execution implements AutoCloseable {

    private static final Duration FOR_EVER = Duration.ofDays(3_650);

    private final Run run;
    private final RunFolder folder;
    private final List<String> covered;
    private final Optional<Credential> actor;
    private final Function<String, Credential> credentials;
    private final HandsSource source;
    private final SourceOpener sources;
    private Optional<GitSource> from = Optional.empty();
    private Sources.Taken taken;
    private IOException notTaken;
    private Hands hands;
    private final List<Item> items = new ArrayList<>();
    private final Map<String, String> results = new LinkedHashMap<>();
    private final List<Runnable> stops = new ArrayList<>();
    private final List<Runnable> ends = new ArrayList<>();
    private Duration patience = FOR_EVER;
    private BufferedWriter log;
    private boolean stopped;
    private boolean ended;

    /**
     * @param covered what must not be readable in the log
     * @param actor whom it acts as
     * @param credentials opens another credential by its name
     * @param source gives what works with files, when it is first needed
     */
    Execution(
            Run run,
            RunFolder folder,
            List<String> covered,
            Optional<Credential> actor,
            Function<String, Credential> credentials,
            HandsSource source) {
        this(run, folder, covered, actor, credentials, source, (wanted, stopped) -> {
            throw new IOException("nothing is taken from repositories here");
        });
    }

    /** @param sources takes files from repositories */
    Execution(
            Run run,
            RunFolder folder,
            List<String> covered,
            Optional<Credential> actor,
            Function<String, Credential> credentials,
            HandsSource source,
            SourceOpener sources) {
        this.sources = sources;
        this.source = source;
        this.run = run;
        this.folder = folder;
        this.covered = new ArrayList<>(covered);
        this.actor = actor;
        this.credentials = credentials;
        actor.ifPresent(this::cover);
    }

    /** Gives what works with files. */
    interface HandsSource {
        Hands open() throws IOException;
    }

    /** Takes files from a repository. */
    interface SourceOpener {
        Sources.Taken open(GitSource source, BooleanSupplier stopped) throws IOException, InterruptedException;
    }

    /** Says where files are taken from whose paths are not full ones. */
    void takesFrom(Optional<GitSource> repository) {
        from = repository;
    }

    /** What reads a file: of the repository where its path is not a full one and there is one, of this host otherwise. */
    FilesToRead files(String path) throws IOException, InterruptedException {
        return from.isEmpty() || path.startsWith("/") ? hands() : taken();
    }

    private Sources.Taken taken() throws IOException, InterruptedException {
        if (notTaken != null) {
            throw notTaken;
        }
        if (taken == null) {
            try {
                taken = sources.open(from.orElseThrow(), this::isStopped);
            } catch (IOException e) {
                notTaken = e;
                throw e;
            }
            SourceTaking.said(taken).forEach(this::say);
            result(SourceTaking.VALUE, taken.commit());
        }
        return taken;
    }

    /** What works with files, with the rights of whom the job acts as. */
    synchronized Hands hands() throws IOException {
        if (hands == null) {
            hands = source.open();
            // whatever it waits for, a run that is stopped does not
            onStop(hands::close);
        }
        return hands;
    }

    /** Makes its folder and its log, in the thread that does the work. */
    synchronized void open() throws IOException {
        if (log != null) {
            return;
        }
        Files.createDirectories(folder.path());
        log = Files.newBufferedWriter(folder.log(), StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    }

    Run run() {
        return run;
    }

    /** Writes a line into the log, secrets covered. */
    synchronized void say(String line) {
        try {
            open();
            log.write(cover(line));
            log.newLine();
            log.flush();
        } catch (IOException e) {
            throw new WorkFailed("its log cannot be written: " + e.getMessage());
        }
    }

    /** Says how far it is; shown with the run, and not as a line of the log. */
    void progress(int done, int of, String what) {
        if (of > 1) {
            say(Progress.MARK
                    + String.format(
                            Locale.ROOT,
                            "{\"progress\": %.3f, \"text\": \"%d of %d %s\"}",
                            (double) done / of,
                            done,
                            of,
                            what));
        }
    }

    String cover(String text) {
        return Mask.of(covered).over(text);
    }

    private void cover(Credential credential) {
        covered.addAll(credential.secrets().values());
    }

    private static final int SHORTEST_HIDDEN = 4;

    /** Covers a value in all that is reported from now on; one of a few letters would cover half of everything. */
    void hide(String value) {
        if (value.length() >= SHORTEST_HIDDEN) {
            covered.add(value);
        }
    }

    /** Whom it acts as; nobody where the definition names nobody. */
    Optional<Credential> actor() {
        return actor;
    }

    /** A credential by its name, or the one it acts as where there is no name. */
    Optional<Credential> credential(String name) {
        if (name.isEmpty()) {
            return actor;
        }
        Credential opened = credentials.apply(name);
        cover(opened);
        return Optional.of(opened);
    }

    /** The place of an output of a name, its folder made. */
    Path output(String name) {
        try {
            Files.createDirectories(folder.outputs());
            return new Root(folder.outputs()).resolve(cover(name));
        } catch (IOException e) {
            throw new WorkFailed("no place for the output " + name + ": " + e.getMessage());
        }
    }

    /** A new file in its folder that is nobody's output. */
    Path scratch() throws IOException {
        open();
        return Files.createTempFile(folder.path(), "scratch", "");
    }

    void keep(Item item) {
        items.add(Item.of(cover(item.name()), item.state(), cover(item.seen())).after(item.took()));
    }

    void result(String name, String value) {
        results.put(cover(name), cover(value));
    }

    Map<String, String> results() {
        return results;
    }

    List<Item> items() {
        return items;
    }

    /** Says how to stop what is being done now; done at once where a stop was asked for already. */
    synchronized void onStop(Runnable stop) {
        stops.add(stop);
        if (stopped) {
            stop.run();
        }
    }

    /** Says how to leave what is being done now, where it has been asked to stop and goes on. */
    synchronized void onEnd(Runnable end) {
        ends.add(end);
        if (ended) {
            end.run();
        }
    }

    /** Asks it to stop; asked once more, it is left at once. */
    synchronized void stop() {
        ended = stopped;
        stopped = true;
        (ended ? ends : stops).forEach(Runnable::run);
    }

    /** Whatever it asks is to answer within so long: it is a look at something, which others wait for. */
    void isALook(Duration most) {
        patience = most;
    }

    /** How long an answer is waited for. */
    Duration patience() {
        return patience;
    }

    synchronized boolean isStopped() {
        return stopped;
    }

    /** The end that its items mean, or success with a sentence. */
    Ending ending(String sentence) {
        return OutcomeRule.items(items).orElse(new Ending(RunState.SUCCEEDED, sentence));
    }

    @Override
    public synchronized void close() throws IOException {
        if (hands != null) {
            hands.close();
        }
        if (taken != null) {
            taken.close();
        }
        if (log != null) {
            log.close();
        }
    }

    /** The bytes of a text as files hold it. */
    static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }
}
