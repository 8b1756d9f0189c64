package org.gantrel.service.run;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface RunMomentStore extends JpaRepository<RunMoment, Long> {

    List<RunMoment> findByRunNumberOrderById(long runNumber);
}
