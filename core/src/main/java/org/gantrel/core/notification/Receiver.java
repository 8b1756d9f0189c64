package org.gantrel.core.notification;

import org.gantrel.core.access.Role;

/** Whom a rule tells. Who that is in person is found out when there is something to tell. */
public sealed interface Receiver {

    /** The same in words, for those who ask who would be told. */
    String words();

    /** The person whom the job names as its owner. */
    record Owner() implements Receiver {
        @Override
        public String words() {
            return "the owner of the job";
        }
    }

    /** Who started the run, where a person did. */
    record Starter() implements Receiver {
        @Override
        public String words() {
            return "who started it";
        }
    }

    /** One person, by the name of the account. */
    record Person(String name) implements Receiver {
        @Override
        public String words() {
            return name;
        }
    }

    /** The people of a team, from a role on. */
    record Team(String name, Role role) implements Receiver {
        @Override
        public String words() {
            return "each " + role.word() + " of " + name;
        }
    }

    /** Who is on duty by a duty list. */
    record Duty(String list) implements Receiver {
        @Override
        public String words() {
            return "who is on duty by " + list;
        }
    }

    /** A mail address, whoever reads what comes there. */
    record Address(String address) implements Receiver {
        @Override
        public String words() {
            return address;
        }
    }
}
