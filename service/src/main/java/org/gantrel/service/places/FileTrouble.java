package org.gantrel.service.places;

import java.nio.file.AccessDeniedException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.util.Optional;

/** Says in a sentence what went wrong with a file, where the platform only names it. */
public final class FileTrouble {

    private FileTrouble() {}

    public static String sentence(FileSystemException trouble) {
        String file = trouble.getFile();
        if (trouble instanceof NoSuchFileException) {
            return "there is no file " + file;
        }
        if (trouble instanceof NotDirectoryException) {
            return file + " is no folder";
        }
        return trouble instanceof AccessDeniedException
                ? "whom the job acts as may not use " + file
                : file + ": " + Optional.ofNullable(trouble.getReason()).orElse("cannot be used");
    }
}
