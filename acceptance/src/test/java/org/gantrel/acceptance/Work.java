package org.gantrel.acceptance;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Map;

/** A folder with programs for tests to run, and definitions that run them. */
final class Work {

    /** A schedule that starts every ten seconds: phrases go no finer than minutes, and nobody wants to wait for one. */
    static final String OFTEN = "schedules: [ { name: often, when: \"DTSTART:20260101T000000"
            + " RRULE:FREQ=MINUTELY;BYSECOND=0,10,20,30,40,50\", zone: UTC } ]";

    private final Path folder;

    Work() {
        try {
            folder = Files.createTempDirectory("work");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    Path folder() {
        return folder;
    }

    /** Makes a program of the lines of a shell script. */
    Work program(String name, String script) {
        try {
            Path file = Files.writeString(folder.resolve(name), "#!/bin/sh\n" + script + "\n");
            Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rwxr-xr-x"));
            return this;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The definition of a task of the team revenue that runs a program, with more lines of YAML. */
    String task(String name, String program, String more) {
        return """
                task: %s
                team: revenue
                about: for a test
                does: { command: [ %s ], in: %s }
                %s
                """
                .formatted(name, program, folder, more);
    }

    String read(String name) {
        try {
            return Files.readString(folder.resolve(name));
        } catch (IOException e) {
            return "";
        }
    }

    void write(String name, String text) {
        try {
            Files.writeString(folder.resolve(name), text);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Makes the team revenue. */
    static Http settle(Service service) {
        Http admin = service.admin();
        admin.post("/api/v1/teams", Map.of("name", "revenue", "about", "Ticket money"))
                .expect(201);
        return admin;
    }
}
