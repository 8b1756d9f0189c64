package org.gantrel.service.notification;

import java.lang.ref.Reference;
import java.time.Instant;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;
import org.springframework.transaction.annotation.Transactional;

interface DeliveryStore extends JpaRepository<DeliveryRecord, Long> {

    int MOST_REMOVED = 1_000;

    @Query("select distinct d.channel from DeliveryRecord d where d.state = 'WAITING' and d.nextTryAt <= :now")
    List<String> dueChannels(Instant now);

    @Query(
            "select d.id from DeliveryRecord d where d.state = 'WAITING' and d.channel = :channel and d.nextTryAt <= :now"
                    + " and d.id > :after order by d.id")
    List<Long> dueIds(String channel, Instant now, long after, Limit limit);

    @Query("select t from DeliveryText t where t.id in :ids")
    List<DeliveryText> texts(Collection<Long> ids);

    /**
     * Up to so many that are due with what they say, the oldest first. Only these are read; their numbers are in the index.
     */
    @Transactional(readOnly = true)
    default List<DeliveryRecord> due(String channel, Instant now, long after, Limit limit) {
        List<Long> ids = dueIds(channel, now, after, limit);
        if (ids.isEmpty()) {
            return List.of();
        }
        // read first and once each, they are there when the messages that share them come
        List<DeliveryText> texts = texts(textIds(ids));
        List<DeliveryRecord> due = findAllById(ids).stream()
                .sorted(Comparator.comparing(DeliveryRecord::id))
                .toList();
        Reference.reachabilityFence(texts);
        return due;
    }

    /** How far a message is. */
    record Far(Long id, DeliveryRecord.State state, Instant nextTryAt) {}

    @Query(
            "select new org.gantrel.service.notification.DeliveryStore$Far(d.id, d.state, d.nextTryAt) from DeliveryRecord d"
                    + " where d.id in :ids")
    List<Far> far(Collection<Long> ids);

    /**
     * Which of these still wait and are due: meanwhile they may have been given up, gathered or put off. Asked by number alone,
     * or the database would look through all that wait.
     */
    default List<Long> stillDue(Collection<Long> ids, Instant now) {
        return far(ids).stream()
                .filter(far -> far.state() == DeliveryRecord.State.WAITING
                        && !far.nextTryAt().isAfter(now))
                .map(Far::id)
                .toList();
    }

    /** Notes that the other side has taken some, whatever was said of them meanwhile: whoever gave one up was too late. */
    @Modifying
    @Query("update DeliveryRecord d set d.state = 'SENT', d.sentAt = :now, d.nextTryAt = null, d.lastError = '',"
            + " d.tries = d.tries + 1 where d.id in :ids and d.state <> 'SENT'")
    void sent(Collection<Long> ids, Instant now);

    /** The same of one that an earlier service has sent. */
    @Modifying
    @Query("update DeliveryRecord d set d.state = 'SENT', d.sentAt = :sentAt, d.nextTryAt = null, d.lastError = '',"
            + " d.tries = d.tries + 1 where d.id = :id and d.madeAt >= :from and d.madeAt < :to and d.state <> 'SENT'")
    void sentBefore(long id, Instant from, Instant to, Instant sentAt);

    @Query("select d.runNumber from DeliveryRecord d where d.runNumber in :runs and d.state = 'WAITING'")
    List<Long> waiting(Collection<Long> runs);

    @Query("select d.id from DeliveryRecord d where d.runNumber in :runs")
    List<Long> of(Collection<Long> runs);

    @Query("select distinct d.text.id from DeliveryRecord d where d.id in :ids")
    List<Long> textIds(Collection<Long> ids);

    @Modifying
    @Query("delete from DeliveryRecord d where d.id in :ids")
    void deleteThese(Collection<Long> ids);

    @Modifying
    @Query(
            "delete from DeliveryText t where t.id in :ids and not exists (select 1 from DeliveryRecord d where d.text.id ="
                    + " t.id)")
    void deleteUnused(Collection<Long> ids);

    /** Removes messages, and what they say where no other says it. */
    @Transactional
    default void remove(List<Long> ids) {
        if (!ids.isEmpty()) {
            List<Long> texts = textIds(ids);
            deleteThese(ids);
            deleteUnused(texts);
        }
    }

    /** Removes those about some runs. */
    default void letGo(Collection<Long> runs) {
        remove(of(runs));
    }

    boolean existsByEventPosition(long position);

    @Query("select min(d.nextTryAt) from DeliveryRecord d where d.state = 'WAITING' and d.channel not in :but")
    Optional<Instant> earliest(Collection<String> but);

    @Query("select d from DeliveryRecord d where d.id < :before and d.teamId = :team and d.channel <> 'console' and"
            + " (:state = '' or cast(d.state as string) = :state) order by d.teamId desc, d.id desc")
    List<DeliveryRecord> before(long before, long team, String state, Limit limit);

    /** What messages are sorted by, without what they say, which is long. */
    record Key(Long id, Long run, String address, String subject, String state, Integer tries, Instant madeAt) {}

    @Query("select new org.gantrel.service.notification.DeliveryStore$Key(d.id, d.runNumber, d.address, d.subject,"
            + " cast(d.state as string), d.tries, d.madeAt) from DeliveryRecord d where d.teamId + 0L in :teams and"
            + " d.channel <> 'console' and (:state = '' or cast(d.state as string) = :state) order by d.id desc")
    List<Key> keys(Collection<Long> teams, String state, Limit limit);

    @Query(
            "select d.madeAt from DeliveryRecord d where d.channel = :channel and d.address = :address and d.madeAt > :since"
                    + " order by d.madeAt")
    List<Instant> madeSince(String channel, String address, Instant since, Limit limit);

    /** When a digest was written last; nothing where it never was, or long ago. */
    @Query("select max(d.madeAt) from DeliveryRecord d where d.kind = 'digest' and d.rule = :digest")
    Optional<Instant> lastDigest(String digest);

    @Query(
            "select d.id from DeliveryRecord d where d.runNumber is null and d.madeAt < :before and d.state <> 'WAITING'")
    List<Long> old(Instant before, Limit limit);

    /** Those about a run go with it; others when they are old, some at a time. @return whether that were all */
    default boolean thin(Instant before) {
        List<Long> old = old(before, Limit.of(MOST_REMOVED));
        remove(old);
        return old.size() < MOST_REMOVED;
    }

    @Query("select min(d.nextTryAt) from DeliveryRecord d where d.state = 'WAITING' and d.held = true and d.channel ="
            + " :channel and d.address = :address")
    Optional<Instant> heldUntil(String channel, String address);

    List<DeliveryRecord> findByFaultIdOrderById(long fault);

    List<DeliveryRecord> findByEventPositionInOrderById(Collection<Long> positions);

    @Query(
            "select d from DeliveryRecord d where d.person = :person and d.channel = 'console' and d.id < :before order by"
                    + " d.person desc, d.id desc")
    List<DeliveryRecord> bell(String person, long before, Limit limit);

    @Query(
            "select count(d) from DeliveryRecord d where d.person = :person and d.channel = 'console' and d.seen = false")
    long unseen(String person);

    @Modifying
    @Query(
            "update DeliveryRecord d set d.seen = true where d.person = :person and d.channel = 'console' and d.id <= :upTo"
                    + " and d.seen = false")
    void see(String person, long upTo);

    /** Those that were tried in vain go again as soon as the other side has taken something. */
    @Modifying
    @Query(
            "update DeliveryRecord d set d.nextTryAt = :now where d.state = 'WAITING' and d.channel = :channel and d.tries >"
                    + " 0 and d.nextTryAt > :now")
    int hasten(String channel, Instant now);

    /** Those that wait for no quiet hours to end go now. */
    @Modifying
    @Query(
            "update DeliveryRecord d set d.nextTryAt = :now where d.state = 'WAITING' and d.held = false and d.nextTryAt >"
                    + " :now")
    int hastenAll(Instant now);
}
