package org.gantrel.service.work;

import java.io.IOException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.action.FileWork;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.places.FileTrouble;
import org.gantrel.service.places.Hands;
import org.gantrel.service.places.Hands.Deed;
import org.gantrel.service.places.Hands.Entry;
import org.gantrel.service.places.NotReachable;
import org.springframework.stereotype.Component;

/** Works on files below a root. Links are never followed, and a root that is a link itself is taken for what it is. */
@Component
class FilesExecutor implements ActionExecutor<FileWork> {

    private static final int DEEPEST = 20;
    private static final int SHOWN = 200;

    /** How many files may be left before it is taken to be all of them: a full disk, a folder that nobody may write to. */
    private static final int MOST_LEFT = 100;

    private static final String GZIP = ".gz";

    private final Clock clock;

    FilesExecutor(Clock clock) {
        this.clock = clock;
    }

    @Override
    public Class<FileWork> type() {
        return FileWork.class;
    }

    @Override
    public Ending perform(FileWork files, Execution work) throws IOException, InterruptedException {
        Hands hands = work.hands();
        List<Entry> chosen = chosen(files, hands);
        var done = new Done();
        for (Entry file : chosen) {
            if (work.isStopped()) {
                throw new InterruptedException();
            }
            work.say(word(files) + " " + file.path() + " (" + Words.count(file.size(), "byte") + ")");
            one(files, file, hands, done, work);
            if (done.left == MOST_LEFT) {
                break;
            }
            int at = done.files + done.left + done.gone;
            if (at * 100L / chosen.size() > (at - 1) * 100L / chosen.size()) {
                work.progress(at, chosen.size(), "files");
            }
        }
        work.result("files", String.valueOf(done.files));
        work.result("bytes", String.valueOf(done.bytes));
        String sentence = sentence(files, done.files) + ", " + Words.count(done.bytes, "byte");
        if (done.left > 0) {
            work.result("left", String.valueOf(done.left));
            String more = done.left == MOST_LEFT ? "; no more were tried" : "";
            return new Ending(
                    RunState.FAILED,
                    Words.count(done.left, "file") + " could not be worked on: " + done.why + more + "; " + sentence);
        }
        Optional<Ending> empty =
                done.files == 0 ? files.whenEmpty().ending("no file " + where(files)) : Optional.empty();
        return empty.orElseGet(() -> work.ending(sentence));
    }

    /** What has become of the files so far. */
    private static final class Done {
        private int files;
        private long bytes;
        private int gone;
        private int left;
        private String why = "";
    }

    /** One file; what is wrong with it keeps none of the others from being worked on. */
    private static void one(FileWork files, Entry file, Hands hands, Done done, Execution work) throws IOException {
        try {
            Optional<Deed> deed = deed(files);
            if (deed.isPresent()) {
                hands.act(deed.get(), files.root(), file.path(), files.to());
            }
            done.files++;
            done.bytes += file.size();
        } catch (NotReachable | FileSystemException e) {
            if (e instanceof NoSuchFileException && !FileTrouble.isNoText(file.path())) {
                done.gone++;
                work.say("it is not there any more: " + file.path());
                return;
            }
            String why = e instanceof FileSystemException trouble ? FileTrouble.sentence(trouble) : e.getMessage();
            done.why = done.left++ == 0 ? why : done.why;
            work.say("LEFT    " + file.path() + ": " + why);
        }
    }

    private static String where(FileWork files) {
        return "below " + files.root() + (files.deep() ? ", subfolders included" : ", subfolders left out");
    }

    private static String word(FileWork files) {
        return files.deed() == FileWork.Deed.DELETE && !files.to().isEmpty()
                ? "put away"
                : files.deed().word();
    }

    private static Optional<Deed> deed(FileWork files) {
        return switch (files.deed()) {
            case LIST -> Optional.empty();
            case DELETE -> Optional.of(files.to().isEmpty() ? Deed.DELETE : Deed.PUT_AWAY);
            case MOVE -> Optional.of(Deed.MOVE);
            case COPY -> Optional.of(Deed.COPY);
            case COMPRESS -> Optional.of(Deed.COMPRESS);
        };
    }

    private static String sentence(FileWork files, int count) {
        String done =
                switch (files.deed()) {
                    case LIST -> "found";
                    case DELETE -> files.to().isEmpty() ? "deleted" : "put away into " + files.to();
                    case MOVE -> "moved";
                    case COPY -> "copied";
                    case COMPRESS -> "compressed";
                };
        return Words.count(count, "file") + " " + done;
    }

    /** The files that are meant; more than the cap are refused before anything is done. */
    private List<Entry> chosen(FileWork files, Hands hands) throws IOException {
        Path root = Path.of(files.root());
        if (!root.isAbsolute() || !root.normalize().equals(root) || root.getNameCount() == 0) {
            throw new WorkFailed("'" + files.root() + "' is no full path of a folder below /");
        }
        if (!hands.isFolder(files.root())) {
            throw new WorkFailed("there is no folder " + root);
        }
        String glob = files.matching();
        List<String> globs = !files.deep() || glob.contains("/") ? List.of(glob) : List.of(glob, "**/" + glob);
        List<Entry> chosen = hands.list(files.root(), globs, files.deep() ? DEEPEST : 1).stream()
                .filter(file -> files.deep() || !file.path().contains("/"))
                .filter(file -> !isDone(files, root, file) && fits(files, file))
                .toList();
        if (chosen.size() > files.atMost()) {
            throw new WorkFailed("more than " + files.atMost() + " files match, and no more are allowed at once"
                    + " (at-most); nothing was done");
        }
        return chosen;
    }

    /** Tells what was compressed earlier, or put away below the root, which is not taken again. */
    private static boolean isDone(FileWork files, Path root, Entry file) {
        Path to = Path.of(files.to());
        boolean below = to.startsWith(root) && !to.equals(root);
        return (below && root.resolve(file.path()).startsWith(to))
                || (files.deed() == FileWork.Deed.COMPRESS && file.path().endsWith(GZIP));
    }

    private boolean fits(FileWork files, Entry file) {
        Duration age = Duration.between(file.modified(), clock.instant());
        return files.olderThan().map(limit -> age.compareTo(limit) > 0).orElse(true)
                && files.newerThan().map(limit -> age.compareTo(limit) < 0).orElse(true)
                && files.largerThan().map(limit -> file.size() > limit).orElse(true)
                && files.smallerThan().map(limit -> file.size() < limit).orElse(true);
    }

    @Override
    public List<Rehearsed> rehearse(FileWork files, Rehearsing around) {
        var found = new ArrayList<Rehearsed>();
        try (Hands hands = around.hands().open()) {
            List<Entry> chosen = chosen(files, hands);
            found.add(Rehearsed.does(word(files), Words.count(chosen.size(), "file") + " " + where(files)));
            for (Entry file : chosen.subList(0, Math.min(SHOWN, chosen.size()))) {
                found.add(rehearse(files, file, hands));
            }
            if (!files.to().isEmpty() && !hands.isFolder(files.to())) {
                found.add(Rehearsed.does("to", "the folder " + files.to() + " is not there yet, and would be made"));
            }
            found.add(Rehearsed.fine("folder", files.root() + " is there"));
        } catch (FileSystemException e) {
            found.add(Rehearsed.wrong("files", FileTrouble.sentence(e)));
        } catch (IOException | WorkFailed | IllegalArgumentException e) {
            found.add(Rehearsed.wrong("files", e.getMessage()));
        }
        return found;
    }

    private static Rehearsed rehearse(FileWork files, Entry file, Hands hands) throws IOException {
        if (FileTrouble.isNoText(file.path())) {
            try {
                hands.look(files.root() + "/" + file.path());
            } catch (NoSuchFileException e) {
                return Rehearsed.wrong(word(files), FileTrouble.sentence(e));
            }
        }
        return Rehearsed.does(word(files), file.path());
    }
}
