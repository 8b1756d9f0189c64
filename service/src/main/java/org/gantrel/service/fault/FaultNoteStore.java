package org.gantrel.service.fault;

import java.util.List;
import org.springframework.data.jpa.repository.JpaRepository;

interface FaultNoteStore extends JpaRepository<FaultNote, Long> {

    List<FaultNote> findByFaultIdOrderById(long fault);
}
