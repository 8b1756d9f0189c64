package org.gantrel.service.backup;

import java.io.IOException;
import java.nio.file.Files;
import java.time.Clock;
import java.util.Optional;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;

/**
 * Holds the whole service when it starts on data that was put back from a backup: what waited then, or has come due since, has
 * perhaps been done already, and somebody is to look before it is done again.
 */
@Component
class PutBack implements SmartLifecycle {

    private static final Logger LOG = LoggerFactory.getLogger(PutBack.class);

    private final Settings settings;
    private final Holds holds;
    private final Clock clock;
    private volatile boolean running;
    private volatile boolean marked;

    PutBack(Settings settings, Holds holds, Clock clock) {
        this.settings = settings;
        this.holds = holds;
        this.clock = clock;
    }

    @Override
    public void start() {
        running = true;
        if (Files.exists(settings.putBackFile())) {
            String why = "the data was put back from the backup " + made()
                    + "; see what has been done since, then end this hold";
            LOG.warn("{}: everything is held", why);
            if (holds.open().stream().noneMatch(hold -> hold.why().equals(why))) {
                holds.lay(Caller.service(), hold(why));
            }
            marked = true;
        }
    }

    private String made() {
        try {
            return Files.readString(settings.putBackFile()).strip();
        } catch (IOException e) {
            return "of an unknown time";
        }
    }

    private Hold hold(String why) {
        return new Hold(
                0,
                Hold.Scope.SERVICE,
                "",
                Optional.empty(),
                clock.instant(),
                Optional.empty(),
                false,
                false,
                false,
                why,
                Caller.service().name(),
                Optional.empty(),
                "");
    }

    /** Takes the mark away: what was under way has been dealt with, and the hold stands. */
    void forget() {
        if (marked) {
            marked = false;
            try {
                Files.deleteIfExists(settings.putBackFile());
            } catch (IOException e) {
                LOG.warn(
                        "{} cannot be deleted ({}); delete it, or the next start takes this data for put back again",
                        settings.putBackFile(),
                        e.getMessage());
            }
        }
    }

    @Override
    public void stop() {
        running = false;
    }

    @Override
    public boolean isRunning() {
        return running;
    }

    /** Before the engine, which nothing here may know: what a bean needs is started before it, whatever its phase. */
    @Override
    public int getPhase() {
        return 0;
    }
}
