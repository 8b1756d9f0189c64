package org.gantrel.service.change;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;
import org.springframework.transaction.annotation.Transactional;

interface ChangeStore extends JpaRepository<ChangeRecord, Long> {

    /** An empty part of the filter lets everything through. */
    @Query(
            """
            select c from ChangeRecord c where c.id < :before and (:all = true or c.team in :teams)
            and (:person = '' or c.person = :person) and (:kind = '' or c.kind = :kind)
            and (:name = '' or c.name = :name) and (:team = '' or c.team = :team) order by c.id desc""")
    List<ChangeRecord> before(
            long before,
            boolean all,
            Collection<String> teams,
            String person,
            String kind,
            String name,
            String team,
            Limit limit);

    @Query(
            """
            select c from ChangeRecord c where c.team in :teams and c.kind in :kinds and c.at > :from and c.at <= :until
            order by c.id desc""")
    List<ChangeRecord> between(
            Collection<String> teams, Collection<String> kinds, Instant from, Instant until, Limit limit);

    @Query(
            """
            select c from ChangeRecord c where c.team = :team and c.kind = :kind and c.name = :name and c.at <= :until
            order by c.id desc""")
    Optional<ChangeRecord> lastOf(String kind, String name, String team, Instant until, Limit limit);

    @Query(
            """
            select c from ChangeRecord c where c.team = :team and c.kind = :kind and c.name = :name and c.at > :after
            order by c.id""")
    Optional<ChangeRecord> firstOf(String kind, String name, String team, Instant after, Limit limit);

    @Modifying
    @Transactional
    @Query(
            """
            delete from ChangeRecord c where c.id in
            (select o.id from ChangeRecord o where o.at < :before order by o.id limit :most)""")
    int thin(Instant before, int most);
}
