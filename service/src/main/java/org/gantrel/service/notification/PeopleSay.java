package org.gantrel.service.notification;

import org.gantrel.core.notification.QuietHours;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What people say about being told. */
@Component
public class PeopleSay {

    private final PersonSayStore store;

    PeopleSay(PersonSayStore store) {
        this.store = store;
    }

    /**
     * Notes how somebody is told.
     *
     * @param mail where mails go; empty for nowhere
     * @param calendar the days on which they work; empty for every day
     */
    @Transactional
    public void say(String person, String mail, QuietHours quiet, String calendar) {
        PersonSay say = store.findById(person).orElseGet(() -> new PersonSay(person));
        say.say(mail, quiet, calendar);
        store.save(say);
    }
}
