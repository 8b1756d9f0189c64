package org.gantrel.service.team;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface MembershipStore extends JpaRepository<Membership, Long> {

    @Query("select m from Membership m join fetch m.team join fetch m.person where m.person = :person")
    List<Membership> ofPerson(Person person);

    @Query(
            "select m from Membership m join fetch m.person join fetch m.team where m.team = :team order by m.person.name")
    List<Membership> ofTeam(Team team);

    Optional<Membership> findByPersonAndTeam(Person person, Team team);
}
