package org.gantrel.service.notification;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface PersonInterestStore extends JpaRepository<PersonInterest, Long> {

    List<PersonInterest> findByJob(String job);

    List<PersonInterest> findByPersonOrderByJob(String person);

    Optional<PersonInterest> findByPersonAndJob(String person, String job);
}
