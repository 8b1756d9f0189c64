package org.gantrel.service.run;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface RunMomentStore extends JpaRepository<RunMoment, Long> {

    boolean existsByRunNumberAndWhat(long runNumber, String what);

    List<RunMoment> findByRunNumberOrderById(long runNumber);
}
