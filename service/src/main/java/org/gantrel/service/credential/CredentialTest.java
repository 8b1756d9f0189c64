package org.gantrel.service.credential;

import java.util.Optional;
import org.gantrel.core.credential.Credential;
import org.gantrel.service.change.Changes;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;

/** Tries a credential out. */
@Component
class CredentialTest {

    private final Credentials credentials;
    private final SignIn signIn;
    private final Changes changes;

    CredentialTest(Credentials credentials, SignIn signIn, Changes changes) {
        this.credentials = credentials;
        this.signIn = signIn;
        this.changes = changes;
    }

    /** What came of a try. */
    record Result(boolean works, String said) {}

    Result of(Caller caller, CredentialRecord record) {
        Credential credential = credentials.open(record);
        Optional<String> complaint = signIn.complaint(credential);
        changes.record(
                caller,
                "tested",
                "credential",
                record.name(),
                record.team().name(),
                complaint.isPresent() ? "it does not work" : "it works");
        return new Result(complaint.isEmpty(), complaint.orElseGet(() -> signIn.done(credential)));
    }
}
