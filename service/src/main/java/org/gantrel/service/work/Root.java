package org.gantrel.service.work;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;

/** A folder that work must not leave, neither by {@code ..} nor by a link. */
record Root(Path folder) {

    /** A path below it. */
    Path resolve(String name) {
        Path path = folder.resolve(name).normalize();
        if (!path.startsWith(folder.normalize())) {
            throw new WorkFailed("'" + name + "' leaves " + folder);
        }
        return path;
    }

    /** Checks that a path that is there really lies below it, links followed. */
    Path within(Path path) throws IOException {
        if (Files.exists(path, LinkOption.NOFOLLOW_LINKS) && !path.toRealPath().startsWith(folder.toRealPath())) {
            throw new WorkFailed(path + " leaves " + folder + " by a link");
        }
        return path;
    }
}
