package org.gantrel.service.job;

import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.gantrel.service.team.Team;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface JobStore extends JpaRepository<JobRecord, Long> {

    @Query("select j from JobRecord j join fetch j.team where j.name = :name")
    Optional<JobRecord> named(String name);

    @Query("select j from JobRecord j join fetch j.team where j.id = :id")
    Optional<JobRecord> withId(long id);

    @Query(
            """
            select j from JobRecord j join fetch j.team
            where j.team in :teams and j.retired = false and j.name > :after
              and (lower(j.name) like :text escape '!' or lower(j.about) like :text escape '!')
            order by j.name""")
    List<JobRecord> search(Collection<Team> teams, String text, String after, Limit limit);

    @Query("select j from JobRecord j join fetch j.team order by j.name")
    List<JobRecord> allEver();

    @Query("select j.name from JobRecord j where j.retired = false and j.team in :teams")
    List<String> names(Collection<Team> teams);

    @Query("select j.team.name from JobRecord j where j.id = :id")
    String owner(long id);
}
