package org.gantrel.core.job;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.definition.DefinitionReader;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A chain")
class JobTest {

    private static final Map<String, Job> JOBS = new HashMap<>();

    static {
        Stream.of(
                        "task: fuel\nteam: fleet\ndoes: { command: [ /bin/true ] }\n",
                        "chain: bunker\nteam: fleet\nsteps: [ { job: fuel }, { job: lost } ]\n",
                        "chain: close\nteam: revenue\nsteps: [ { job: bunker }, { step: again, job: fuel } ]\n",
                        "chain: round\nteam: revenue\nsteps: [ { job: about }, { job: close } ]\n",
                        "chain: about\nteam: revenue\nsteps: [ { job: round } ]\n")
                .map(DefinitionReader::readOne)
                .forEach(read -> JOBS.put(read.job().name(), read.job()));
    }

    private static List<String> parts(String chain) {
        return ((Job.Chain) JOBS.get(chain))
                .parts(name -> Optional.ofNullable(JOBS.get(name))).stream()
                        .map(Job::name)
                        .toList();
    }

    @Test
    @DisplayName("starts the jobs of its steps and of chains among them, each named once")
    void startsItsParts() {
        assertThat(parts("close")).containsExactly("bunker", "fuel");
    }

    @Test
    @DisplayName("that comes back to itself is among its own parts, and looking for them ends")
    void findsItself() {
        assertThat(parts("round")).containsExactlyInAnyOrder("about", "round", "close", "bunker", "fuel");
    }
}
