package org.gantrel.service.team;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface PersonStore extends JpaRepository<Person, Long> {

    Optional<Person> findByName(String name);

    List<Person> findAllByOrderByName();
}
