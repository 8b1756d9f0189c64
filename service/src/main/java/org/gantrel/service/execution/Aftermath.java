package org.gantrel.service.execution;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import javax.xml.stream.XMLStreamException;
import org.gantrel.core.job.Outputs.Output;
import org.gantrel.core.run.Item;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.run.OutcomeRule.Evidence;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.TestResults;
import org.gantrel.core.text.Glob;
import org.gantrel.core.text.SafePattern;

/** Looks through what a command left behind, and keeps its declared outputs. */
final class Aftermath {

    private static final SafePattern SOMETHING = SafePattern.of("\\S");
    private static final int LONGEST_LINE = 10_000;
    private static final int MOST_FILES = 1_000;

    private final OutcomeRule rule;
    private final List<Output> outputs;
    private final Path worked;
    private final RunFolder folder;
    private final List<String> unchecked = new ArrayList<>();

    /** @param worked the folder that the command worked in */
    Aftermath(OutcomeRule rule, List<Output> outputs, Path worked, RunFolder folder) {
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
        return new TaskResult(Optional.empty(), evidence, items, Map.of(), String.join("; ", lost));
    }

    private Optional<String> firstLine(Path file, List<SafePattern> patterns) throws IOException {
        if (patterns.isEmpty() || !Files.isRegularFile(file)) {
            return Optional.empty();
        }
        try (var lines = new BoundedLines(file, LONGEST_LINE)) {
            for (Optional<String> line = lines.next(); line.isPresent(); line = lines.next()) {
                String looked = line.get();
                if (patterns.stream().anyMatch(pattern -> matches(pattern, looked))) {
                    return line;
                }
            }
        }
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
        List<Path> files = matching(rule.testResults());
        for (Path file : files) {
            try (InputStream stream = Files.newInputStream(file)) {
                items.addAll(TestResults.read(stream));
            } catch (XMLStreamException e) {
                items.add(
                        Item.of(file.getFileName().toString(), RunState.FAILED, "is no JUnit XML: " + e.getMessage()));
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
            List<Path> files = matching(output.path());
            if (files.isEmpty()) {
                lost.add("the output " + output.path()
                        + (leaves(output.path()) ? " leaves " + worked : " is not there"));
            }
            for (Path file : files) {
                Path below = Path.of(output.name());
                keep(
                        file,
                        files.size() > 1 ? below.resolve(worked.relativize(file).toString()) : below,
                        output.atMost(),
                        lost);
            }
        }
        return lost;
    }

    private void keep(Path file, Path name, long atMost, List<String> lost) throws IOException {
        long size = Files.size(file);
        Path target = folder.outputs().resolve(name).normalize();
        if (size > atMost) {
            lost.add("the output " + name + " has " + size + " bytes, at most " + atMost + " are kept");
        } else if (!target.startsWith(folder.outputs())) {
            lost.add("the output " + name + " would leave its folder");
        } else {
            Files.createDirectories(target.getParent());
            Files.copy(file, target, StandardCopyOption.REPLACE_EXISTING);
        }
    }

    /**
     * The files that a path stands for: itself, all in a folder, or those that match a glob. Links are not followed, and
     * nothing outside of the working folder is taken: the service may read what the command may not.
     */
    private List<Path> matching(String path) throws IOException {
        Path one = worked.resolve(path);
        if (!Files.isDirectory(worked) || leaves(path)) {
            return List.of();
        }
        if (Files.isRegularFile(one, LinkOption.NOFOLLOW_LINKS)) {
            return List.of(one);
        }
        Glob glob;
        try {
            glob = Glob.of(path);
        } catch (IllegalArgumentException e) {
            // it is refused at a save nowadays; what was saved before still runs
            return List.of();
        }
        try (Stream<Path> found = Files.walk(Files.isDirectory(one) ? one : worked, 12)) {
            return found.filter(file -> Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS))
                    .filter(file -> file.startsWith(one)
                            || glob.matches(worked.relativize(file).toString()))
                    .sorted()
                    .limit(MOST_FILES)
                    .toList();
        } catch (UncheckedIOException e) {
            throw e.getCause();
        }
    }

    /** Whether a path leads out of the working folder, by its text or by a link on its way. */
    private boolean leaves(String path) throws IOException {
        Path one = worked.resolve(path).normalize();
        Path folder = one.getParent();
        return !one.startsWith(worked.normalize())
                || (Files.exists(folder)
                        && !one.equals(worked.normalize())
                        && !folder.toRealPath().startsWith(worked.toRealPath()));
    }
}
