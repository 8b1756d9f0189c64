package org.gantrel.service.work;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Stream;
import java.util.zip.GZIPOutputStream;
import org.gantrel.core.action.FileWork;
import org.gantrel.core.action.FileWork.Deed;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.run.Ending;
import org.gantrel.core.text.Glob;
import org.gantrel.core.text.Words;
import org.springframework.stereotype.Component;

/** Works on files below a root. Links are never followed, and a root that is a link itself is taken for what it is. */
@Component
class FilesExecutor implements ActionExecutor<FileWork> {

    private static final int DEEPEST = 20;
    private static final int SHOWN = 200;
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
        var root = new Root(root(files));
        List<Path> chosen = chosen(files, root);
        long bytes = 0;
        for (Path file : chosen) {
            if (work.isStopped()) {
                throw new InterruptedException();
            }
            bytes += Files.size(file);
            work.say(files.deed().word() + " " + root.folder().relativize(file) + " ("
                    + Words.count(Files.size(file), "byte") + ")");
            act(files, root, file);
        }
        work.result("files", String.valueOf(chosen.size()));
        work.result("bytes", String.valueOf(bytes));
        return work.ending(sentence(files, chosen.size()) + ", " + Words.count(bytes, "byte"));
    }

    private static String sentence(FileWork files, int count) {
        String done =
                switch (files.deed()) {
                    case LIST -> "found";
                    case DELETE -> files.to().isEmpty() ? "deleted" : "put into " + files.to();
                    case MOVE -> "moved";
                    case COPY -> "copied";
                    case COMPRESS -> "compressed";
                };
        return Words.count(count, "file") + " " + done;
    }

    private static Path root(FileWork files) throws IOException {
        Path root = Path.of(files.root());
        if (!root.isAbsolute() || !root.normalize().equals(root) || root.getNameCount() == 0) {
            throw new WorkFailed("'" + files.root() + "' is no full path of a folder below /");
        }
        if (!Files.isDirectory(root)) {
            throw new WorkFailed("there is no folder " + root);
        }
        return root.toRealPath();
    }

    /** The files that are meant; more than the cap are refused before anything is done. */
    private List<Path> chosen(FileWork files, Root root) throws IOException {
        Glob glob = Glob.of(files.matching());
        Predicate<Path> done = done(files, root.folder());
        var chosen = new ArrayList<Path>();
        try (Stream<Path> found = Files.walk(root.folder(), DEEPEST)) {
            for (Path file : (Iterable<Path>) found::iterator) {
                Path below = root.folder().relativize(file);
                boolean named = glob.matches(below.toString())
                        || (!files.matching().contains("/")
                                && glob.matches(below.getFileName().toString()));
                if (named
                        && Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)
                        && !done.test(file)
                        && fits(files, file)) {
                    chosen.add(root.within(file));
                }
                if (chosen.size() > files.atMost()) {
                    throw new WorkFailed("more than " + files.atMost() + " files match, and no more are allowed at once"
                            + " (at-most); nothing was done");
                }
            }
        }
        chosen.sort(null);
        return chosen;
    }

    /** Tells what was compressed earlier, or put away below the root, which is not taken again. */
    private static Predicate<Path> done(FileWork files, Path root) throws IOException {
        Path to = Path.of(files.to());
        Path away = files.to().isEmpty() || !Files.exists(to) ? to : to.toRealPath();
        boolean below = away.startsWith(root) && !away.equals(root);
        return file -> (below && file.startsWith(away))
                || (files.deed() == Deed.COMPRESS && file.toString().endsWith(GZIP));
    }

    private boolean fits(FileWork files, Path file) throws IOException {
        Duration age = Duration.between(Files.getLastModifiedTime(file).toInstant(), clock.instant());
        long size = Files.size(file);
        return files.olderThan().map(limit -> age.compareTo(limit) > 0).orElse(true)
                && files.newerThan().map(limit -> age.compareTo(limit) < 0).orElse(true)
                && files.largerThan().map(limit -> size > limit).orElse(true)
                && files.smallerThan().map(limit -> size < limit).orElse(true);
    }

    private static void act(FileWork files, Root root, Path file) throws IOException {
        Path below = root.folder().relativize(file);
        if (files.deed() == Deed.DELETE && files.to().isEmpty()) {
            Files.delete(file);
        } else if (files.deed() == Deed.DELETE) {
            Files.move(file, vacant(Path.of(files.to()), below, ""));
        } else if (files.deed() == Deed.COMPRESS) {
            compress(file, vacant(files.to().isEmpty() ? root.folder() : Path.of(files.to()), below, GZIP));
        } else if (files.deed() != Deed.LIST) {
            Path target = Path.of(files.to()).resolve(below);
            Files.createDirectories(target.getParent());
            if (files.deed() == Deed.COPY) {
                Files.copy(file, target, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.COPY_ATTRIBUTES);
            } else {
                Files.move(file, target, StandardCopyOption.REPLACE_EXISTING);
            }
        }
    }

    /** A place that nothing has yet: what was put away before is not lost to a later file of the same name. */
    private static Path vacant(Path folder, Path below, String ending) throws IOException {
        Path target = folder.resolve(below + ending);
        Files.createDirectories(target.getParent());
        for (int i = 2; Files.exists(target, LinkOption.NOFOLLOW_LINKS); i++) {
            target = folder.resolve(below + "." + i + ending);
        }
        return target;
    }

    /** The age stays that of the file, so that later work goes by it. */
    private static void compress(Path file, Path target) throws IOException {
        try (OutputStream stream = new GZIPOutputStream(Files.newOutputStream(target))) {
            Files.copy(file, stream);
        }
        Files.setLastModifiedTime(target, Files.getLastModifiedTime(file));
        Files.delete(file);
    }

    @Override
    public List<Rehearsed> rehearse(FileWork files, Optional<Credential> actor) {
        var found = new ArrayList<Rehearsed>();
        try {
            var root = new Root(root(files));
            List<Path> chosen = chosen(files, root);
            found.add(
                    Rehearsed.does(files.deed().word(), Words.count(chosen.size(), "file") + " below " + files.root()));
            chosen.stream()
                    .limit(SHOWN)
                    .forEach(file -> found.add(Rehearsed.does(
                            files.deed().word(), root.folder().relativize(file).toString())));
            found.add(Rehearsed.fine("folder", files.root() + " is there"));
        } catch (IOException | WorkFailed | IllegalArgumentException e) {
            found.add(Rehearsed.wrong("files", e.getMessage()));
        }
        return found;
    }
}
