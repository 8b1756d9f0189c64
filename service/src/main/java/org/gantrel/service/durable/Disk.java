package org.gantrel.service.durable;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** How much room there is. */
@FunctionalInterface
public interface Disk {

    /** The disks of this host. */
    Disk OF_THE_HOST = folder -> Files.getFileStore(folder).getUsableSpace();

    /** How many bytes the service may still write where a folder is. */
    long free(Path folder) throws IOException;
}
