package org.gantrel.service.journal;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface EventStore extends JpaRepository<EventRecord, Long> {

    /** Which events are meant, and which the caller may know of. */
    String WANTED = " e.type like :types and e.about like :jobs and (:run = 0 or e.runNumber = :run) and e.at >= :since"
            + " and e.team in :teams and (e.type not like 'gantrel.credential.%' or e.team in :credentials)";

    @Query("select max(e.position) from EventRecord e")
    Optional<Long> highest();

    @Query("select e.runNumber from EventRecord e where e.runNumber in :runs and e.position > :read")
    List<Long> unread(Collection<Long> runs, long read);

    @Query("select e from EventRecord e where e.position > :after and e.position <= :upTo order by e.position")
    List<EventRecord> between(long after, long upTo, Limit limit);

    @Query("select count(e) > 0 from EventRecord e where e.type = :type and e.at >= :since and e.about like :about")
    boolean holds(String type, String about, Instant since);

    List<EventRecord> findByRunNumberOrderByPosition(long run, Limit limit);

    /** What a caller may know of, newest first. */
    @Query("select e from EventRecord e where e.position < :before and" + WANTED + " order by e.position desc")
    List<EventRecord> before(
            long before,
            String types,
            String jobs,
            long run,
            Instant since,
            Collection<String> teams,
            Collection<String> credentials,
            Limit limit);

    /** The same on from a place, oldest first. */
    @Query("select e from EventRecord e where e.position > :after and e.position <= :upTo and" + WANTED
            + " order by e.position")
    List<EventRecord> onFrom(
            long after,
            long upTo,
            String types,
            String jobs,
            long run,
            Instant since,
            Collection<String> teams,
            Collection<String> credentials,
            Limit limit);
}
