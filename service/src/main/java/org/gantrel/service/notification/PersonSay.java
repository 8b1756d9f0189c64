package org.gantrel.service.notification;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Locale;
import org.gantrel.core.notification.NotificationRule.Urgency;
import org.gantrel.core.notification.QuietHours;

/** What a person says about being told: where mails go, and when not to disturb them. */
@Entity
@Table(name = "person_say")
final class PersonSay {

    @Id
    private String person;

    private String mail = "";
    private String zone = "UTC";
    private String quietFrom = "00:00";
    private String quietUntil = "00:00";
    private String calendar = "";
    private String wakes = Urgency.URGENT.word();

    protected PersonSay() {}

    PersonSay(String person) {
        this.person = person;
    }

    void say(String address, QuietHours quiet, String workdays) {
        mail = address;
        zone = quiet.zone().getId();
        quietFrom = quiet.from().toString();
        quietUntil = quiet.until().toString();
        calendar = workdays;
        wakes = quiet.wakes().word();
    }

    String person() {
        return person;
    }

    /** Empty where mails go nowhere. */
    String mail() {
        return mail;
    }

    /** The calendar of the days on which they work; empty where that is every day. */
    String calendar() {
        return calendar;
    }

    QuietHours quiet() {
        return new QuietHours(
                ZoneId.of(zone),
                LocalTime.parse(quietFrom),
                LocalTime.parse(quietUntil),
                Urgency.valueOf(wakes.toUpperCase(Locale.ROOT)));
    }
}
