package org.gantrel.service.notification;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyCollection;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Random;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.LongStream;
import org.gantrel.service.TestSettings;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("A round of messages")
class RoundTest {

    private static final Instant MADE = Instant.parse("2026-11-26T03:00:00Z");
    private static final int MESSAGES = 180;

    @TempDir
    Path folder;

    private final List<Long> marked = new ArrayList<>();
    private final List<Long> sent = new ArrayList<>();

    private static DeliveryRecord message(long id) {
        DeliveryRecord message = mock(DeliveryRecord.class);
        when(message.id()).thenReturn(id);
        when(message.madeAt()).thenReturn(MADE);
        return message;
    }

    /** A store that cannot be written now and then. */
    private DeliveryStore store(AtomicInteger faults, Random random) {
        DeliveryStore store = mock(DeliveryStore.class);
        doAnswer(call -> {
                    if (faults.get() > 0 && random.nextInt(3) == 0) {
                        faults.decrementAndGet();
                        throw new IllegalStateException("no space left");
                    }
                    Collection<Long> ids = call.getArgument(0);
                    synchronized (marked) {
                        marked.addAll(ids);
                    }
                    return null;
                })
                .when(store)
                .sent(anyCollection(), any());
        return store;
    }

    private List<Long> noted(SentNotes notes) {
        return notes.left("mail").stream().map(SentNotes.Note::id).toList();
    }

    @RepeatedTest(30)
    @DisplayName("leaves nothing that was taken without a mark or a note of it, whatever fails and wherever it dies")
    void losesNothing(RepetitionInfo repetition) throws IOException {
        var random = new Random(repetition.getCurrentRepetition());
        var notes = new SentNotes(TestSettings.in(folder, 4));
        var transaction = new TransactionTemplate(mock(PlatformTransactionManager.class));
        var faults = new AtomicInteger(random.nextInt(4));
        var round = new Round("mail", store(faults, random), notes, transaction, teams -> {}, Clock.systemUTC());
        for (long id = 1; id <= MESSAGES; id++) {
            sent.add(id);
            try {
                round.taken(message(id));
            } catch (IllegalStateException e) {
                assertThat(e).hasMessage("no space left");
            }
            if (random.nextInt(40) == 0) {
                // what another service would find that starts now
                List<Long> found = noted(new SentNotes(TestSettings.in(folder, 4)));
                synchronized (marked) {
                    assertThat(LongStream.rangeClosed(1, id).boxed())
                            .allMatch(each -> found.contains(each) || marked.contains(each));
                }
            }
        }
        faults.set(0);
        round.close();
        assertThat(marked).containsAll(sent).doesNotHaveDuplicates();
        assertThat(noted(notes)).isEmpty();
        assertThat(notes.channels()).isEmpty();
        notes.close();
    }
}
