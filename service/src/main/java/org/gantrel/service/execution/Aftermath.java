package org.gantrel.service.execution;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import javax.xml.stream.XMLStreamException;
import org.gantrel.core.job.Outputs.Output;
import org.gantrel.core.run.Item;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.run.OutcomeRule.Evidence;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.TestResults;
import org.gantrel.core.text.SafePattern;
import org.gantrel.core.text.Words;
import org.gantrel.service.durable.RoomToKeep;
import org.gantrel.service.places.FileTrouble;
import org.gantrel.service.places.FoldersToRead;
import org.gantrel.service.places.Hands.Entry;
import org.gantrel.service.places.NotReachable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Looks through what a command left behind, and keeps its declared outputs. */
final class Aftermath {

    private static final Logger LOG = LoggerFactory.getLogger(Aftermath.class);
    private static final SafePattern SOMETHING = SafePattern.of("\\S");
    private static final int LONGEST_LINE = 10_000;
    private static final int MOST_FILES = 1_000;
    private static final int MOST_TROUBLES = 3;
    private static final long MOST_RESULTS = 1L << 30;

    /**
     * What looking through a log may take: characters times instructions of all patterns. A gigabyte with a short pattern or
     * two, and some minutes at most.
     */
    private static final long MOST_WORK = 20_000_000_000L;

    private static final int DEEPEST = 12;

    private final OutcomeRule rule;
    private final List<Output> outputs;
    private final String worked;
    private final FoldersToRead hands;
    private final RoomToKeep room;
    private final UnaryOperator<String> cover;
    private final RunFolder folder;
    private final List<String> unchecked = new ArrayList<>();
    private long work;

    /**
     * @param worked the folder that the command worked in, as a full path
     * @param hands reads what is there
     * @param room for what is kept
     * @param cover makes a name one that all may read
     */
    Aftermath(
            OutcomeRule rule,
            List<Output> outputs,
            String worked,
            RunFolder folder,
            FoldersToRead hands,
            RoomToKeep room,
            UnaryOperator<String> cover) {
        this.room = room;
        this.cover = cover;
        this.hands = hands;
        this.rule = rule;
        this.outputs = outputs;
        this.worked = worked;
        this.folder = folder;
    }

    TaskResult look() {
        try {
            return lookClosely();
        } catch (IOException e) {
            return TaskResult.NOTHING.without(e.toString());
        }
    }

    /** The same where trouble with the files need not last. */
    TaskResult lookClosely() throws IOException {
        List<Item> items = rule.testResults().isEmpty() ? List.of() : testResults();
        var evidence = new Evidence(
                firstLine(folder.log(), rule.failedBy()),
                firstLine(folder.log(), rule.warnedBy()),
                firstLine(folder.errors(), List.of(SOMETHING)),
                items);
        var lost = new ArrayList<>(unchecked);
        lost.addAll(keepOutputs());
        return new TaskResult(Optional.empty(), evidence, items, Map.of(), String.join("; ", lost), false);
    }

    private Optional<String> firstLine(Path file, List<SafePattern> patterns) throws IOException {
        if (patterns.isEmpty() || !Files.isRegularFile(file)) {
            return Optional.empty();
        }
        var log = new LogFile(file);
        try (var lines = new BoundedLines(log.stream(), LONGEST_LINE)) {
            long size = patterns.stream().mapToLong(SafePattern::size).sum();
            for (Optional<String> line = lines.next(); line.isPresent(); line = lines.next()) {
                String looked = line.get();
                work += (looked.length() + 1) * size;
                if (work > MOST_WORK) {
                    unchecked.add("its log is too long for its patterns: the rest was not looked through");
                    return Optional.empty();
                }
                if (patterns.stream().anyMatch(pattern -> matches(pattern, looked))) {
                    return line;
                }
            }
        }
        log.gap().ifPresent(gap -> {
            String why = "its log grew past log-limit, and the middle, which was left out, was not looked through";
            if (!unchecked.contains(why)) {
                unchecked.add(why);
            }
        });
        return Optional.empty();
    }

    /** Whether a line matches; that of one that is too much for its pattern nobody knows, which is said. */
    private boolean matches(SafePattern pattern, String line) {
        try {
            return pattern.isIn(line);
        } catch (SafePattern.TooMuch e) {
            String why = e.getMessage();
            if (!unchecked.contains(why)) {
                unchecked.add(why);
            }
            return false;
        }
    }

    private List<Item> testResults() throws IOException {
        var items = new ArrayList<Item>();
        List<Entry> files = matching(rule.testResults());
        long left = MOST_RESULTS;
        Path copy = folder.path().resolve("test-results");
        for (Entry file : files) {
            String name = file.path().replaceFirst(".*/", "");
            long most = Math.min(left, room.left(folder.path()));
            boolean whole;
            try {
                whole = file.size() <= most && hands.copy(at(file.path()), copy, most);
            } catch (FileSystemException e) {
                items.add(Item.of(name, RunState.FAILED, "was not read: " + FileTrouble.sentence(e)));
                continue;
            }
            if (!whole) {
                String why = most < left ? room.sentence() : "there is more than 1 GB of test results";
                items.add(Item.of(name, RunState.FAILED, "was not read: " + why));
                break;
            }
            left -= Files.size(copy);
            try (InputStream stream = Files.newInputStream(copy)) {
                items.addAll(TestResults.read(stream, TestResults.MOST_ITEMS - items.size()));
            } catch (XMLStreamException e) {
                items.add(Item.of(name, RunState.FAILED, "is no JUnit XML: " + e.getMessage()));
            } finally {
                Files.deleteIfExists(copy);
            }
        }
        if (files.isEmpty()) {
            items.add(Item.of(
                    "test results", RunState.FAILED, "no file " + rule.testResults() + " was left in " + worked));
        }
        return items;
    }

    /** Copies what is declared; what is missing or too large is said. */
    private List<String> keepOutputs() throws IOException {
        var lost = new ArrayList<String>();
        for (Output output : outputs) {
            try {
                keep(output, lost);
            } catch (FileSystemException e) {
                lost.add(cannotBeKept(output.path(), e));
            }
        }
        return lost;
    }

    private void keep(Output output, List<String> lost) throws IOException {
        List<Entry> files = matching(output.path());
        if (files.isEmpty()) {
            lost.add("the output " + output.path() + (leaves(output.path()) ? " leaves " + worked : " is not there"));
        }
        var troubles = new ArrayList<String>();
        for (Entry file : files) {
            try {
                keep(file, name(output, file, files.size()), output.atMost(), lost);
            } catch (FileSystemException e) {
                troubles.add(cannotBeKept(file.path(), e));
            }
        }
        troubles.stream().limit(MOST_TROUBLES).forEach(lost::add);
        if (troubles.size() > MOST_TROUBLES) {
            lost.add(Words.count(troubles.size() - MOST_TROUBLES, "more file") + " of the output " + output.path()
                    + " cannot be kept");
        }
    }

    /** What a file is kept as. What fits a pattern keeps its own path where nobody has named it: a pattern is no name. */
    private static Path name(Output output, Entry file, int files) {
        Path name = Path.of(output.name());
        boolean named = !output.name().equals(Output.usualName(output.path()));
        String plain = Path.of(output.path()).normalize().toString();
        boolean byPattern = !file.path().equals(plain) && !file.path().startsWith(plain + "/");
        if (byPattern && !named) {
            return Path.of(file.path());
        }
        return files > 1 ? name.resolve(file.path()) : name;
    }

    /** Of a file that cannot be read; the others, and what the log says, count all the same. */
    private static String cannotBeKept(String path, FileSystemException trouble) {
        return "the output " + path + " cannot be kept: " + FileTrouble.sentence(trouble);
    }

    private void keep(Entry file, Path name, long atMost, List<String> lost) throws IOException {
        Path target = folder.outputs().resolve(cover.apply(name.toString())).normalize();
        if (file.size() > atMost) {
            lost.add("the output " + name + " has " + file.size() + " bytes, at most " + atMost + " are kept");
            return;
        }
        if (!target.startsWith(folder.outputs())) {
            lost.add("the output " + name + " would leave its folder");
            return;
        }
        Files.createDirectories(target.getParent());
        long left = room.left(target.getParent());
        if (file.size() > left) {
            lost.add("the output " + name + " is not kept: " + room.sentence());
        } else if (!hands.copy(at(file.path()), target, Math.min(atMost, left))) {
            lost.add("the output " + name + " grows while it is read: it has more than " + atMost
                    + " bytes, at most that are kept");
        }
    }

    private String at(String path) {
        return worked + "/" + path;
    }

    /**
     * The files that a path stands for: itself, all in a folder, or those that match a glob. Links are not followed, and
     * nothing outside of the working folder is taken.
     */
    private List<Entry> matching(String path) throws IOException {
        if (leaves(path) || !hands.isFolder(worked)) {
            return List.of();
        }
        String plain = Path.of(path).normalize().toString();
        if (isFolder(plain)) {
            return hands.list(at(plain), List.of("**"), DEEPEST).stream()
                    .map(file -> new Entry(
                            plain.isEmpty() ? file.path() : plain + "/" + file.path(), file.size(), file.modified()))
                    .limit(MOST_FILES)
                    .toList();
        }
        try {
            return List.of(new Entry(plain, hands.look(at(plain)).size(), Instant.EPOCH));
        } catch (IOException e) {
            LOG.trace("{} is no file, so it is a glob", plain);
        }
        try {
            return hands.list(worked, List.of(plain), DEEPEST).stream()
                    .limit(MOST_FILES)
                    .toList();
        } catch (IllegalArgumentException e) {
            // it is refused at a save nowadays; what was saved before still runs
            return List.of();
        }
    }

    /** A link that leads out of the working folder is none of what was left there. */
    private boolean isFolder(String path) throws IOException {
        try {
            return hands.isFolder(at(path));
        } catch (NotReachable e) {
            return false;
        }
    }

    /** Whether a path leads out of the working folder by its text; by a link it leads nowhere. */
    private static boolean leaves(String path) {
        Path plain = Path.of(path).normalize();
        return plain.isAbsolute() || plain.startsWith("..");
    }
}
