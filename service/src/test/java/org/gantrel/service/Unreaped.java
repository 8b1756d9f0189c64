package org.gantrel.service;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** A process that has ended, and whose parent never asks how: it stands in the table of processes until this is closed. */
public final class Unreaped implements AutoCloseable {

    private final Process parent;

    /** Its number and when it started, as a command leaves them. */
    public final String mark;

    public Unreaped(Path folder) throws IOException {
        Path said = folder.resolve("unreaped");
        // what the shell becomes does not know of its children
        parent = new ProcessBuilder("sh", "-c", "sh -c 'cat /proc/$$/stat >'" + said + " & exec sleep 600").start();
        Await.until("it has ended", () -> stateOf(said).equals("Z"));
        String[] words = Files.readString(said).split(" ");
        mark = words[0] + " " + words[21];
    }

    private static String stateOf(Path said) {
        try {
            String number = Files.readString(said).split(" ")[0];
            return Files.readString(Path.of("/proc", number, "stat")).split(" ")[2];
        } catch (IOException | IndexOutOfBoundsException e) {
            return "";
        }
    }

    @Override
    public void close() {
        parent.destroy();
    }
}
