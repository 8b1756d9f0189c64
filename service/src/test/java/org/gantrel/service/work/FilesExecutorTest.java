package org.gantrel.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyList;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.doThrow;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.NoSuchFileException;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.stream.IntStream;
import org.gantrel.core.action.FileWork;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.service.places.Hands;
import org.gantrel.service.places.NotReachable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Work on files of which some cannot be worked on")
class FilesExecutorTest {

    private final Hands hands = mock(Hands.class);
    private final Execution work = mock(Execution.class);

    @BeforeEach
    void begin() throws IOException {
        when(work.hands()).thenReturn(hands);
        when(work.ending(anyString())).thenAnswer(call -> new Ending(RunState.SUCCEEDED, call.getArgument(0)));
        when(hands.isFolder(anyString())).thenReturn(true);
    }

    private Ending delete(List<String> files) throws Exception {
        when(hands.list(anyString(), anyList(), anyInt()))
                .thenReturn(files.stream()
                        .map(name -> new Hands.Entry(name, 10, Instant.EPOCH))
                        .toList());
        var job = (Job.Task) DefinitionReader.readOne(
                        "task: thin\nteam: t\ndoes: { files: delete, under: /srv/tides, matching: \"*\", at-most: 900 }\n")
                .job();
        return new FilesExecutor(Clock.systemUTC()).perform((FileWork) job.action(), work);
    }

    private void fails(String file, Exception why) throws IOException {
        doThrow(why).when(hands).act(any(), anyString(), eq(file), anyString());
    }

    @Test
    @DisplayName("does the others; what is gone meanwhile is no failure, what may not be touched is")
    void doesTheOthers() throws Exception {
        fails("b", new NoSuchFileException("/srv/tides/b"));
        assertThat(delete(List.of("a", "b", "c")))
                .isEqualTo(new Ending(RunState.SUCCEEDED, "2 files deleted, 20 bytes"));
        fails("c", new AccessDeniedException("/srv/tides/c"));
        fails("d", new NotReachable("/srv/tides/d leads to what no job reaches"));
        Ending ending = delete(List.of("a", "b", "c", "d", "e"));
        assertThat(ending)
                .isEqualTo(new Ending(
                        RunState.FAILED,
                        "2 files could not be worked on: whom the job acts as may not use /srv/tides/c;"
                                + " 2 files deleted, 20 bytes"));
        verify(work).result("left", "2");
        verify(work).say("LEFT    d: /srv/tides/d leads to what no job reaches");
    }

    @Test
    @DisplayName("stops where it seems to be all of them")
    void stops() throws Exception {
        doThrow(new AccessDeniedException("/srv/tides")).when(hands).act(any(), anyString(), anyString(), anyString());
        Ending ending = delete(IntStream.range(0, 300).mapToObj(i -> "f" + i).toList());
        assertThat(ending.message())
                .isEqualTo("100 files could not be worked on: whom the job acts as may not use /srv/tides;"
                        + " no more were tried; 0 files deleted, 0 bytes");
        verify(hands, times(100)).act(any(), anyString(), anyString(), anyString());
    }
}
