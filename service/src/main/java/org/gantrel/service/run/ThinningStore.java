package org.gantrel.service.run;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;
import org.springframework.data.repository.Repository;

/** What retention asks and does. */
interface ThinningStore extends Repository<RunRecord, Long> {

    String OLD =
            """
            from RunRecord r where r.jobId = :job and r.parent is null and r.finishedAt < :before
            and r.number < (select max(l.number) from RunRecord l where l.jobId = :job)
            and r.number <> coalesce((select max(g.number) from RunRecord g where g.jobId = :job
                and g.state in (org.gantrel.core.run.RunState.SUCCEEDED, org.gantrel.core.run.RunState.WARNED)), -1)
            """;

    String LOGS = "from RunRecord r where r.jobId = :job and r.finishedAt < :before and r.logGone = false ";

    @Query("select r.number " + OLD + " order by r.number")
    List<Long> runs(long job, Instant before, Limit limit);

    @Query("select count(r) " + OLD)
    long countRuns(long job, Instant before);

    @Query("select r.number " + LOGS + " order by r.number")
    List<Long> logs(long job, Instant before, Limit limit);

    @Query("select count(r) " + LOGS)
    long countLogs(long job, Instant before);

    @Query(
            """
            select r.number from RunRecord r
            where r.jobId = :job and r.finishedAt < :before and r.outputsGone = false order by r.number""")
    List<Long> outputs(long job, Instant before, Limit limit);

    @Modifying
    @Query("update RunRecord r set r.logGone = true where r.number in :runs")
    void logsGone(Collection<Long> runs);

    @Modifying
    @Query("update RunRecord r set r.outputsGone = true where r.number in :runs")
    void outputsGone(Collection<Long> runs);

    // the youngest first: a step's own steps have higher numbers than it
    @Query("select r.number from RunRecord r where r.parent = :run order by r.number desc")
    List<Long> children(long run, Limit limit);

    @Modifying
    @Query("delete from RunWord w where w.runNumber in :runs")
    void deleteWords(Collection<Long> runs);

    @Modifying
    @Query("delete from RunMoment m where m.runNumber in :runs")
    void deleteMoments(Collection<Long> runs);

    @Modifying
    @Query("delete from RunItem i where i.runNumber in :runs")
    void deleteItems(Collection<Long> runs);

    @Modifying
    @Query("delete from AttemptRecord a where a.runNumber in :runs")
    void deleteAttempts(Collection<Long> runs);

    @Modifying
    @Query("delete from StartKey k where k.runNumber in :runs")
    void deleteStartKeys(Collection<Long> runs);

    @Modifying
    @Query("delete from RunRecord r where r.number in :runs")
    void deleteRuns(Collection<Long> runs);
}
