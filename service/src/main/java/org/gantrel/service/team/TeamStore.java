package org.gantrel.service.team;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface TeamStore extends JpaRepository<Team, Long> {

    Optional<Team> findByName(String name);

    List<Team> findAllByOrderByName();
}
