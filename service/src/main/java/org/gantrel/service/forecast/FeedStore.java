package org.gantrel.service.forecast;

import java.util.List;
import java.util.Optional;
import org.gantrel.service.team.Person;
import org.springframework.data.jpa.repository.JpaRepository;

interface FeedStore extends JpaRepository<Feed, Long> {

    Optional<Feed> findByHash(String hash);

    List<Feed> findByPersonOrderById(Person person);
}
