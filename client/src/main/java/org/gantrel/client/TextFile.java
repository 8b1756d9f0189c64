package org.gantrel.client;

import java.io.IOException;
import java.io.InputStream;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import org.gantrel.core.text.StrictReader;

/** Files that people name in a command, which are text in UTF-8. */
public final class TextFile {

    private TextFile() {}

    /**
     * Reads one.
     *
     * @param file a dash stands for the input
     * @throws Wrong where it is not there, or is no such text
     */
    public static String read(Path file) {
        boolean input = file.toString().equals("-");
        if (!input && Files.isDirectory(file)) {
            throw new Wrong(file + " is a folder; a file is expected");
        }
        var text = new StringWriter();
        try (InputStream in = input ? System.in : Files.newInputStream(file);
                var reader = new StrictReader(in)) {
            reader.transferTo(text);
            return text.toString();
        } catch (NoSuchFileException e) {
            throw new Wrong("there is no file " + file);
        } catch (IOException e) {
            throw new Wrong((input ? "the input" : file) + " cannot be read: " + e.getMessage());
        }
    }
}
