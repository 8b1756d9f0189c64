package org.gantrel.service.signin;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.change.Changes;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.journal.Notices;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.secret.RandomToken;
import org.gantrel.service.team.AccountChanged;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Person;
import org.gantrel.service.team.Teams;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.http.HttpStatus;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionTemplate;

/** Sessions and tokens: made, recognised, taken back. */
@Component
@Transactional
public class Tokens {

    static final Duration SESSION = Duration.ofHours(12);
    static final String PREFIX = "gt_";
    private static final Duration USE_IS_NOTED_EVERY = Duration.ofMinutes(5);
    private static final int LONGEST_DAYS = 400;

    private static final Logger LOG = LoggerFactory.getLogger(Tokens.class);

    private final AccessTokenStore store;
    private final Teams teams;
    private final PasswordEncoder passwords;
    private final SignInThrottle throttle;
    private final Changes changes;
    private final Notices notices;
    private final TransactionTemplate transactions;
    private final TransactionTemplate reading;
    private final Clock clock;
    /** The hash of a password that nobody has, of the same cost as all others. */
    private static final String NOBODYS_HASH = "$2b$10$9YonsrZArafVEJ1LYZGRQ.JMTlDZ1hyhkoRRwkDq0/CZkZEqnawa.";

    Tokens(
            AccessTokenStore store,
            Teams teams,
            PasswordEncoder passwords,
            SignInThrottle throttle,
            Changes changes,
            Notices notices,
            PlatformTransactionManager manager,
            Clock clock) {
        this.notices = notices;
        this.transactions = new TransactionTemplate(manager);
        this.reading = Transactions.reading(manager);
        this.store = store;
        this.teams = teams;
        this.passwords = passwords;
        this.throttle = throttle;
        this.changes = changes;
        this.clock = clock;
    }

    /**
     * Checks a name and a password. An unknown name takes as long as a wrong password. Nothing of this is in a
     * transaction: looking at a password takes its time, and a failure is written down though the call is refused.
     *
     * @param address where the call comes from
     * @throws Refusal where they do not fit, or where too many have been tried
     */
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    public Person signIn(String name, String password, String address) {
        Optional<Person> person = name.length() > Job.LONGEST_NAME ? Optional.empty() : teams.person(name);
        String hash =
                person.filter(each -> !each.isShut()).map(Person::passwordHash).orElse(NOBODYS_HASH);
        SignInThrottle.Failed failed = throttle.tried(
                name,
                address,
                clock.instant(),
                () -> password.length() <= 72 && passwords.matches(password, hash) && !hash.equals(NOBODYS_HASH));
        if (failed != SignInThrottle.Failed.NOT) {
            // a name that nobody has may be a password in the wrong field
            String shown = person.map(Person::name).orElse("(nobody)");
            transactions.executeWithoutResult(status -> {
                changes.record(Caller.nobody(), "failed to sign in", "person", shown, "", "from " + address);
                if (failed == SignInThrottle.Failed.LOCKED) {
                    changes.record(Caller.nobody(), "slowed down", "person", shown, "", "sign-ins from " + address);
                }
            });
            notices.tell(
                    EventType.SIGNIN_REFUSED,
                    "",
                    Map.of("person", shown, "message", shown + " was not let in, from " + address));
            throw Refusal.notSignedIn("the name or the password is wrong");
        }
        return person.orElseThrow();
    }

    /** Whether a password is that of a person; a wrong one counts as a failed sign-in. */
    void prove(Caller caller, String password, String address) {
        try {
            signIn(caller.name(), password, address);
        } catch (Refusal refusal) {
            if (refusal.status() == HttpStatus.UNAUTHORIZED) {
                throw new InvalidException("old", "is not the password of " + caller.name());
            }
            throw refusal;
        }
    }

    String openSession(Person person) {
        store.deleteByExpiresAtBefore(clock.instant());
        changes.record(teams.caller(person), "signed in", "person", person.name(), "", "");
        notices.tell(
                EventType.SIGNIN_ACCEPTED,
                "",
                Map.of("person", person.name(), "message", person.name() + " signed in"));
        return make(person, AccessToken.Kind.SESSION, "console", SESSION);
    }

    void closeSession(String token) {
        recognise(token, AccessToken.Kind.SESSION)
                .ifPresent(caller -> changes.record(caller, "signed out", "person", caller.name(), "", ""));
        store.deleteByHash(RandomToken.hash(token));
    }

    /** Ends all that a person is signed in with: when the password changes, and when the account is shut. */
    @EventListener
    void endAll(AccountChanged event) {
        store.deleteByPerson(event.person());
    }

    /** Makes a token for programs; it is shown this once. */
    String create(Caller caller, String name, int days) {
        if (name.isBlank() || name.length() > 60) {
            throw new InvalidException("name", "1 to 60 characters are needed");
        }
        if (days < 1 || days > LONGEST_DAYS) {
            throw new InvalidException("days", days + ": 1 to " + LONGEST_DAYS + " would be right");
        }
        changes.record(caller, "created", "token", name, "", "for " + days + " days");
        return make(person(caller), AccessToken.Kind.TOKEN, name, Duration.ofDays(days));
    }

    @Transactional(readOnly = true)
    List<AccessToken> of(Caller caller) {
        return store.findByPersonAndKindOrderById(person(caller), AccessToken.Kind.TOKEN);
    }

    void revoke(Caller caller, long id) {
        AccessToken token = of(caller).stream()
                .filter(candidate -> candidate.id() == id)
                .findFirst()
                .orElseThrow(() -> Refusal.notFound("you have no token " + id));
        store.delete(token);
        changes.record(caller, "revoked", "token", token.name(), "", "");
    }

    /** Notes that a token was shown which lets nobody in: it is unknown, was taken back, or is over. */
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    public void refused(String token) {
        String person = store.withHash(RandomToken.hash(token))
                .map(known -> known.person().name())
                .orElse("");
        String whose = person.isEmpty() ? "a token that nobody has any more" : "a token of " + person + " that is over";
        notices.tell(EventType.TOKEN_REFUSED, "", Map.of("person", person, "message", whose + " was shown"));
    }

    /** Whom a token lets in, and whether its use is to be noted: not at every call, which should not cost a write. */
    private record Shown(long token, Caller caller, boolean noted) {}

    /**
     * Who a session or a token belongs to, as of now. Where nothing can be written, whoever only reads still can. Read and
     * noted one after the other: a call that held two connections to the database could wait for itself.
     */
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    Optional<Caller> recognise(String token, AccessToken.Kind kind) {
        Instant now = clock.instant();
        Optional<Shown> shown = reading.execute(status -> store.withHash(RandomToken.hash(token))
                .filter(known -> known.kind() == kind)
                .filter(known ->
                        known.expiresAt().isAfter(now) && !known.person().isShut())
                .map(known -> new Shown(known.id(), teams.caller(known.person()), isNoted(known, now))));
        shown.filter(each -> !each.noted()).ifPresent(each -> note(each.token(), now));
        return shown.map(Shown::caller);
    }

    private static boolean isNoted(AccessToken token, Instant now) {
        return token.lastUsedAt() != null
                && !token.lastUsedAt().plus(USE_IS_NOTED_EVERY).isBefore(now);
    }

    private void note(long token, Instant now) {
        try {
            transactions.executeWithoutResult(status -> store.used(token, now));
        } catch (Refusal refusal) {
            LOG.debug("the use of a token could not be noted", refusal);
        }
    }

    private Person person(Caller caller) {
        return teams.person(caller.name()).orElseThrow();
    }

    private String make(Person person, AccessToken.Kind kind, String name, Duration lifetime) {
        String token = RandomToken.make(PREFIX);
        Instant now = clock.instant();
        store.save(new AccessToken(person, kind, name, RandomToken.hash(token), now, now.plus(lifetime)));
        return token;
    }
}
