package org.gantrel.service.chain;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface RoundStore extends JpaRepository<RoundRecord, Long> {

    List<RoundRecord> findByRunNumberOrderById(long run);

    @Query("select max(r.round) from RoundRecord r where r.runNumber = :run")
    Optional<Integer> last(long run);
}
