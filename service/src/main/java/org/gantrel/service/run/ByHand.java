package org.gantrel.service.run;

import java.time.Instant;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Schedule;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/** Says what day it is for a start that no schedule planned. */
@Component
public class ByHand {

    private final Settings settings;

    ByHand(Settings settings) {
        this.settings = settings;
    }

    /** The planned time, in the zone of the job's first schedule or else in that of this installation. */
    public PlannedTime planned(Job job, Instant at) {
        return new PlannedTime(
                at, job.schedules().stream().findFirst().map(Schedule::zone).orElse(settings.zone()));
    }
}
