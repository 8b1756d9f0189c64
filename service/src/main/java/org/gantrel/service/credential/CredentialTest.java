package org.gantrel.service.credential;

import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.credential.Credential;
import org.gantrel.service.change.Changes;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** Tries a credential out. */
@Component
class CredentialTest {

    private final Credentials credentials;
    private final SignIn signIn;
    private final Changes changes;
    private final TransactionTemplate transaction;

    CredentialTest(Credentials credentials, SignIn signIn, Changes changes, TransactionTemplate transaction) {
        this.transaction = transaction;
        this.credentials = credentials;
        this.signIn = signIn;
        this.changes = changes;
    }

    /** What came of a try. */
    record Result(boolean works, String said) {}

    /** Signs in between two transactions: that may take its time. */
    Result of(Caller caller, String name) {
        var team = new String[1];
        Credential credential = transaction.execute(begun -> {
            CredentialRecord record = credentials.visible(caller, name);
            team[0] = record.team().name();
            caller.require(Deed.TEST_CREDENTIALS, team[0]);
            return credentials.open(record);
        });
        Optional<String> complaint = signIn.complaint(credential);
        transaction.executeWithoutResult(begun -> changes.record(
                caller,
                "tested",
                "credential",
                name,
                team[0],
                complaint.isPresent() ? "it does not work" : "it works"));
        return new Result(complaint.isEmpty(), complaint.orElseGet(() -> signIn.done(credential)));
    }
}
