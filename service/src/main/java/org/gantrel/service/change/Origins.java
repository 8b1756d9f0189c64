package org.gantrel.service.change;

import jakarta.persistence.EntityManager;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Where revisions come from: those that were brought in from files, and edits that were made since. */
@Component
@Transactional
public class Origins {

    /** What has revisions. */
    public enum Kind {
        JOB("JobRevision", "jobId", "JobRecord"),
        CALENDAR("CalendarRevision", "calendarId", "CalendarRecord"),
        ROSTER("RosterRevision", "rosterId", "RosterRecord"),
        LANE("LaneRevision", "laneId", "LaneRecord"),
        NOTIFICATION("TellingRevision", "tellingId", "TellingRecord", " and t.kind = 'notification'"),
        DUTY("TellingRevision", "tellingId", "TellingRecord", " and t.kind = 'duty'"),
        CHANNEL("TellingRevision", "tellingId", "TellingRecord", " and t.kind = 'channel'"),
        DIGEST("TellingRevision", "tellingId", "TellingRecord", " and t.kind = 'digest'"),
        WORDING("TellingRevision", "tellingId", "TellingRecord", " and t.kind = 'wording'");

        private final String revision;
        private final String owner;
        private final String record;
        private final String those;

        Kind(String revision, String owner, String record) {
            this(revision, owner, record, "");
        }

        /** @param those which of the records are meant, where they hold several kinds */
        Kind(String revision, String owner, String record, String those) {
            this.revision = revision;
            this.owner = owner;
            this.record = record;
            this.those = those;
        }

        /** Those of the latest revision of a thing that is called so. */
        private String latest() {
            return " where r." + owner + " = (select t.id from " + record + " t where t.name = :name" + those + ")"
                    + " and r.revision = (select t.revision from " + record + " t where t.name = :name" + those + ")";
        }
    }

    private final EntityManager entities;

    Origins(EntityManager entities) {
        this.entities = entities;
    }

    /** Notes that the latest revision of a thing came from a file. */
    public void broughtIn(Kind kind, String name) {
        entities.flush();
        entities.createQuery("update " + kind.revision + " r set r.broughtIn = true" + kind.latest())
                .setParameter("name", name)
                .executeUpdate();
    }

    /** Who edited a thing since it was brought in from a file last; nothing where nobody did, or it never was. */
    @Transactional(readOnly = true)
    public Optional<String> editedBy(Kind kind, String name) {
        List<String> latest = entities.createQuery(
                        "select r.madeBy from " + kind.revision + " r" + kind.latest()
                                + " and (r.broughtIn is null or r.broughtIn = false)"
                                + " and exists (select 1 from " + kind.revision + " e where e." + kind.owner + " = r."
                                + kind.owner + " and e.broughtIn = true)",
                        String.class)
                .setParameter("name", name)
                .getResultList();
        return latest.stream().findFirst();
    }
}
