package org.gantrel.service.trigger;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface TriggerSwitchStore extends JpaRepository<TriggerSwitch, Long> {

    Optional<TriggerSwitch> findByJobIdAndTriggerName(long job, String trigger);
}
