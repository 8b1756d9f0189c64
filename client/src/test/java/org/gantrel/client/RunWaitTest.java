package org.gantrel.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.concurrent.atomic.AtomicInteger;
import org.gantrel.client.StubService.Answer;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A start that waits for its end")
class RunWaitTest {

    private static final String LINES =
            "event:lines\ndata:{\"to\":9,\"text\":\"settled\\n\"}\n\nevent:end\ndata:[]\n\n";

    private final AtomicInteger broken = new AtomicInteger();

    private Answer answer(String path) {
        if (path.contains("/log/events")) {
            if (broken.getAndDecrement() > 0) {
                throw new IllegalStateException("a service that restarts");
            }
            return Answer.fine(path.endsWith("from=0") ? LINES : "event:end\ndata:[]\n\n");
        }
        return Answer.fine("{\"number\":7,\"state\":\"failed\",\"message\":\"exit code 1\"}");
    }

    private String follow() {
        try (var service = new StubService(this::answer)) {
            assertThat(service.gantrel("job", "start", "settle-tickets", "--follow"))
                    .isEqualTo(1);
            return service.said();
        }
    }

    @Test
    @DisplayName("shows the log of a run that ended before anybody looked")
    void showsTheLogOfAShortRun() {
        assertThat(follow()).contains("run 7 of settle-tickets is under way", "settled\n");
    }

    @Test
    @DisplayName("goes on when the service answers again, and says so once")
    void goesOn() {
        // the JDK's client asks once more by itself when a connection breaks
        broken.set(3);
        assertThat(follow()).containsOnlyOnce("the service does not answer").containsOnlyOnce("settled\n");
    }
}
