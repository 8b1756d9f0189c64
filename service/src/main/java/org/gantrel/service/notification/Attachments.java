package org.gantrel.service.notification;

import java.io.IOException;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import org.gantrel.core.text.Glob;
import org.gantrel.service.execution.RunFolder;

/**
 * The outputs of a run that go along with a mail.
 *
 * @param files what goes along, by the name that it has in the mail
 * @param left what does not, and why, one thing a line
 */
record Attachments(List<File> files, List<String> left) {

    static final Attachments NONE = new Attachments(List.of(), List.of());

    /** The most bytes that go along with one mail, all files together. */
    static final long MOST_BYTES = 5_000_000;

    private static final int MOST_FILES = 20;
    private static final int MOST_LOOKED_AT = 5_000;

    /** @param name its path among the outputs */
    record File(String name, Path path, long size) {}

    /** The outputs of a run that have one of some names, or fit one of some patterns. */
    static Attachments of(Path runs, long number, List<String> patterns) {
        Path outputs = RunFolder.of(runs, number).outputs();
        List<Glob> globs = patterns.stream().map(Glob::of).toList();
        var found = new TreeMap<String, File>();
        try {
            Files.walkFileTree(outputs, new SimpleFileVisitor<>() {
                private int seen;

                @Override
                public FileVisitResult visitFile(Path file, BasicFileAttributes what) {
                    String name = outputs.relativize(file).toString();
                    if (what.isRegularFile() && globs.stream().anyMatch(glob -> glob.fits(name))) {
                        found.put(name, new File(name, file, what.size()));
                    }
                    return ++seen < MOST_LOOKED_AT ? FileVisitResult.CONTINUE : FileVisitResult.TERMINATE;
                }
            });
        } catch (IOException e) {
            // a run that left nothing, or nothing any more
            return new Attachments(List.of(), List.of("No output of the run is there to go along."));
        }
        var files = new ArrayList<File>();
        var left = new ArrayList<String>();
        long bytes = 0;
        for (File file : found.values()) {
            if (files.size() < MOST_FILES && bytes + file.size() <= MOST_BYTES) {
                files.add(file);
                bytes += file.size();
            } else {
                left.add(file.name() + " (" + file.size() + " bytes) does not go along: at most " + MOST_FILES
                        + " files of " + MOST_BYTES + " bytes together do.");
            }
        }
        if (found.isEmpty()) {
            left.add("No output of the run is called " + String.join(" or ", patterns) + ".");
        }
        return new Attachments(files, left.size() > MOST_FILES ? left.subList(0, MOST_FILES) : left);
    }
}
