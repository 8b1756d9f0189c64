package org.gantrel.service.aside;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.LongStream;
import org.gantrel.service.LiveService;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.Journal;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("A reader of the journal")
class EventByEventTest {

    private static final String READER = "probe";

    @TempDir
    Path folder;

    private final List<Long> dealtWith = new ArrayList<>();
    private long broken;

    private EventByEvent reader(LiveService service) {
        return new EventByEvent(
                READER,
                service.bean(Journal.class),
                service.bean(SetAside.class),
                service.bean(TransactionTemplate.class),
                event -> true,
                event -> new Thing(Kind.EVENT, 5_000_000 + event.position(), "event " + event.position(), ""),
                event -> {
                    if (event.run() == broken) {
                        throw new IllegalStateException("cannot be told");
                    }
                    dealtWith.add(event.run());
                });
    }

    @Test
    @DisplayName("comes back to what it could not deal with, though the service is started again meanwhile, and once")
    void comesBack() throws Exception {
        try (LiveService service = LiveService.fresh(folder)) {
            Journal journal = service.bean(Journal.class);
            long from = journal.position(READER);
            LongStream.of(11, 12, 13).forEach(run -> journal.write("gantrel.probe", run, "revenue", Map.of()));
            broken = 12;
            take(reader(service), journal, from);
            assertThat(dealtWith).containsExactly(11L, 13L);
            assertThat(journal.unread(List.of(11L, 12L, 13L)))
                    .as("whose runs are to stay")
                    .contains(12L);

            service.restart();
            reader(service).idle();
            assertThat(dealtWith).as("still broken").containsExactly(11L, 13L);

            service.restart();
            broken = 0;
            EventByEvent reader = reader(service);
            reader.idle();
            reader.idle();
            assertThat(dealtWith).containsExactly(11L, 13L, 12L);

            service.restart();
            reader(service).idle();
            take(
                    reader(service),
                    service.bean(Journal.class),
                    service.bean(Journal.class).position(READER));
            assertThat(dealtWith).as("once").containsExactly(11L, 13L, 12L);
        }
    }

    private static void take(EventByEvent reader, Journal journal, long from) {
        List<Event> events = journal.after(from, 100).stream()
                .filter(event -> event.type().equals("gantrel.probe"))
                .toList();
        if (!events.isEmpty()) {
            reader.take(events);
        }
    }
}
