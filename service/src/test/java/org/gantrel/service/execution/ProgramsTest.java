package org.gantrel.service.execution;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.action.Command;
import org.gantrel.core.definition.DefinitionReader;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("A look at a program, without running it,")
class ProgramsTest {

    private final Actors actors = mock(Actors.class);
    private final Programs programs = new Programs(actors);

    @TempDir
    private Path folder;

    @BeforeEach
    void makePrograms() throws IOException {
        Path settle = Files.writeString(folder.resolve("settle.sh"), "#!/bin/sh\n");
        Files.setPosixFilePermissions(settle, PosixFilePermissions.fromString("rwxr-xr-x"));
        Files.writeString(folder.resolve("plain.sh"), "#!/bin/sh\n");
        Files.createDirectory(folder.resolve("sub"));
    }

    private void script(String name, String text) throws IOException {
        Path file = Files.writeString(folder.resolve(name), text);
        Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rwxr-xr-x"));
    }

    private String complaint(String program) {
        var command = new Command(List.of(program), folder.toString(), Map.of());
        return programs.complaint(command).orElse("").replace(folder.toString(), "FOLDER");
    }

    @Test
    @DisplayName("warns of texts that stand outside quotes in a shell's line, with the right form")
    void warnsOfUnquotedTexts() {
        var job = DefinitionReader.readOne(
                        """
                task: list
                team: harbour
                parameters: { place: { type: text }, count: { type: number }, day: { type: date } }
                does: { shell: 'ls -n ${count} ${day} ${planned.date} "${place}" ${place} ${place + day}' }
                """)
                .job();
        assertThat(programs.warnings(job))
                .containsExactly(
                        "shell: ${place} stands outside quotes; its value is one word there, blanks and signs included, and"
                                + " never read as code: \"${place}\" says so, and several words are for the arguments of"
                                + " 'command'",
                        "shell: ${place + day} stands outside quotes; its value is one word there, blanks and signs"
                                + " included, and never read as code: \"${place + day}\" says so, and several words are"
                                + " for the arguments of 'command'");
    }

    @Test
    @DisplayName("finds it in its folder, by its full path, and on PATH")
    void findsIt() {
        assertThat(complaint("./settle.sh")).isEmpty();
        assertThat(complaint(folder.resolve("settle.sh").toString())).isEmpty();
        assertThat(complaint("sh")).isEmpty();
    }

    @Test
    @DisplayName("says what keeps it from starting, and offers the name beside it that was probably meant")
    void saysWhatKeepsIt() throws IOException {
        assertThat(complaint("./setle.sh")).isEqualTo("there is no program FOLDER/setle.sh; did you mean 'settle.sh'?");
        assertThat(complaint("./plain.sh"))
                .isEqualTo("FOLDER/plain.sh is not executable; 'chmod +x FOLDER/plain.sh' makes it so");
        assertThat(complaint("./sub")).isEqualTo("FOLDER/sub is a folder, not a program");
        script("dos.sh", "#!/bin/sh\r\necho\r\n");
        script("gone.sh", "#!/bin/nosuchshell -e\n");
        script("env.sh", "#!/usr/bin/env no-such-interpreter\n");
        script("empty.sh", "");
        script("half.sh", "#!sh\n");
        assertThat(complaint("./dos.sh"))
                .isEqualTo("FOLDER/dos.sh has line ends of DOS, so that its interpreter would be '/bin/sh\\r';"
                        + " sed -i 's/\\r$//' FOLDER/dos.sh takes them away");
        assertThat(complaint("./gone.sh"))
                .startsWith("the interpreter of FOLDER/gone.sh is not there: /bin/nosuchshell");
        assertThat(complaint("./env.sh")).startsWith("FOLDER/env.sh: there is no program 'no-such-interpreter'");
        assertThat(complaint("./empty.sh")).isEqualTo("FOLDER/empty.sh is empty");
        assertThat(complaint("./half.sh")).startsWith("the first line of FOLDER/half.sh names no interpreter");
        assertThat(complaint("echoo")).endsWith("did you mean 'echo'?");
        assertThat(complaint("/no/where/x")).isEqualTo("there is no program /no/where/x");
        assertThat(complaint("no-such-program"))
                .startsWith("there is no program 'no-such-program' in the folders of PATH");
        assertThat(programs.complaint(new Command(List.of("sh"), "/no/such", Map.of())))
                .contains("there is no folder /no/such");
        assertThat(complaint("./a\0b")).contains("is no path");
    }

    @Test
    @DisplayName("leaves alone what is known only when it runs")
    void leavesAloneWhatIsNotKnown() {
        String text =
                "task: t\nteam: r\nparameters: { p: { type: text } }\ndoes: { command: [ \"./${p}\" ], in: /no }\n";
        assertThat(programs.warnings(DefinitionReader.readOne(text).job())).isEmpty();
        assertThat(programs.warnings(
                        DefinitionReader.readOne(text.replace("./${p}", "./x")).job()))
                .containsExactly("there is no folder /no");
        assertThat(programs.warnings(DefinitionReader.readOne("chain: c\nteam: t\nsteps: [ { job: a } ]")
                        .job()))
                .isEmpty();
        when(actors.isElsewhere(any())).thenReturn(true);
        assertThat(programs.warnings(
                        DefinitionReader.readOne(text.replace("./${p}", "./x")).job()))
                .as("what another host has is not known here")
                .isEmpty();
    }

    @Test
    @DisplayName("warns of a path that holds a version, and names the newest that is there")
    void warnsOfVersions() throws IOException {
        for (String version : List.of("1.2", "1.10", "1.9")) {
            Files.createDirectories(folder.resolve("tool-" + version + "/bin"));
        }
        Files.createDirectories(folder.resolve("jdk-17"));
        assertThat(Programs.versioned(folder.resolve("tool-1.2/bin/x").toString()))
                .contains("the path " + folder + "/tool-1.2/bin/x holds a version number, 1.2; the newest there is "
                        + folder + "/tool-1.10");
        assertThat(Programs.versioned(folder.resolve("tool-1.10/bin/x").toString())
                        .orElseThrow())
                .endsWith("1.10; an update may take it away");
        assertThat(Programs.versioned(folder.resolve("jdk-17/bin/java").toString())
                        .orElseThrow())
                .contains("holds a version number, 17");
        assertThat(Programs.versioned("/usr/bin/python3")).isEmpty();
        assertThat(Programs.versioned("./tool-1.2")).isEmpty();
    }

    @Test
    @DisplayName("says its version when it is asked, with the environment that its job has")
    void saysItsVersion() throws IOException {
        script("tool.sh", "#!/bin/sh\necho \"tool $1 $KIND\"\n");
        var command = new Command(
                List.of("./tool.sh", "work"),
                folder.toString(),
                Map.of("KIND", "kiosk"),
                Map.of(),
                Command.Input.NONE,
                List.of("--version"),
                Optional.empty());
        assertThat(programs.version(command, Optional.empty(), Account.own())).isEqualTo("tool --version kiosk");
        assertThat(programs.version(Command.of("/no/such"), Optional.empty(), Account.own()))
                .startsWith("it could not be asked");
    }
}
