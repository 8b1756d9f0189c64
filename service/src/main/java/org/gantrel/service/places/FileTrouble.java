package org.gantrel.service.places;

import java.nio.file.AccessDeniedException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.util.Optional;

/** Says in a sentence what went wrong with a file, where the platform only names it. */
public final class FileTrouble {

    /** What stands for bytes of a name that are no text (Unicode, U+FFFD). */
    private static final String NO_TEXT = "\uFFFD";

    private FileTrouble() {}

    /** Whether a name was read that is not written as text of this host is, so that nothing is found by it. */
    public static boolean isNoText(String name) {
        return name.contains(NO_TEXT);
    }

    public static String sentence(FileSystemException trouble) {
        String file = trouble.getFile();
        if (trouble instanceof NoSuchFileException) {
            return isNoText(String.valueOf(file))
                    ? "the name of " + file + " is not written in UTF-8, so it cannot be opened by it"
                    : "there is no file " + file;
        }
        if (trouble instanceof NotDirectoryException) {
            return file + " is no folder";
        }
        return trouble instanceof AccessDeniedException
                ? "whom the job acts as may not use " + file
                : file + ": " + Optional.ofNullable(trouble.getReason()).orElse("cannot be used");
    }
}
