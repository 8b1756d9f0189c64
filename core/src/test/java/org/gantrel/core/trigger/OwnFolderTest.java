package org.gantrel.core.trigger;

import static org.assertj.core.api.Assertions.assertThat;

import org.gantrel.core.definition.DefinitionReader;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A job that leaves files where its own trigger watches")
class OwnFolderTest {

    @ParameterizedTest(name = "{0}; watching {1}: {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "files: move, under: /in, to: /in/done    | deep: 2            | true",
                "files: move, under: /in, to: /in/done    | deep: 1            | false",
                "files: move, under: /in, to: /in/a/done  | deep: 2            | false",
                "files: copy, under: /out, to: /in/../in  | deep: 1            | true",
                "files: copy, under: /in, to: /inner      | deep: 9            | false",
                "files: delete, under: /in, quarantine: /in/old | deep: 3      | true",
                "files: delete, under: /in                | deep: 3            | false",
                "files: move, under: /in, to: '/in/${planned.date}' | deep: 3  | false",
                "files: move, under: /in, to: /in/done    | deep: 2, host: far | false",
                "command: [ x ]                           | deep: 2            | false"
            })
    void isWarnedOf(String does, String watch, boolean warned) {
        String text = "task: t\nteam: a\ndoes: { " + does
                + " }\ntriggers: [ { name: came, on: file.arrived, under: /in, " + watch + " } ]\n";
        assertThat(OwnFolder.warnings(DefinitionReader.readOne(text).job())).hasSize(warned ? 1 : 0);
    }
}
