package org.gantrel.client.definition;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.gantrel.client.Wrong;

/** Definition files as people name them in a command. */
public final class DefinitionFiles {

    private DefinitionFiles() {}

    /**
     * The files that are meant: a folder stands for the definition files in it and below, in the order of their paths.
     *
     * @throws Wrong where there is none
     */
    public static List<Path> of(List<Path> paths) throws IOException {
        var files = new ArrayList<Path>();
        for (Path path : paths) {
            if (!Files.isDirectory(path)) {
                files.add(path);
                continue;
            }
            try (Stream<Path> found = Files.walk(path)) {
                found.filter(file -> file.toString().matches(".*\\.(yaml|yml|json)"))
                        .sorted()
                        .forEach(files::add);
            }
        }
        if (files.isEmpty()) {
            throw new Wrong("there is no .yaml, .yml or .json file in " + paths.get(0));
        }
        return files;
    }

    /** What a file is called in messages. */
    public static String name(Path file) {
        return file.toString().equals("-") ? "standard input" : file.toString();
    }
}
