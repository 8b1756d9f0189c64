package org.gantrel.service.run;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface StartKeyStore extends JpaRepository<StartKey, Long> {

    Optional<StartKey> findByPersonAndStartKey(String person, String startKey);
}
