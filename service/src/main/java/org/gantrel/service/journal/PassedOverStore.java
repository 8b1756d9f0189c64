package org.gantrel.service.journal;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface PassedOverStore extends JpaRepository<PassedOver, Long> {

    List<PassedOver> findByReaderOrderByPosition(String reader);

    @Query("select min(p.position) from PassedOver p")
    Optional<Long> first();

    @Modifying
    @Query("delete from PassedOver p where p.reader = :reader and p.position = :position")
    void dealtWith(String reader, long position);
}
