package org.gantrel.service.credential;

import java.io.IOException;
import org.gantrel.core.access.Deed;
import org.gantrel.service.change.Changes;
import org.gantrel.service.secret.Seal;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.support.TransactionTemplate;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/** The key under which secrets are sealed. */
@RestController
class KeyApi {

    /** @param credentials how many were sealed again, and so on for the values of runs */
    record Rotated(int credentials, int runs) {}

    private final Seal seal;
    private final Credentials credentials;
    private final SealedValues runs;
    private final Changes changes;
    private final TransactionTemplate transaction;

    KeyApi(Seal seal, Credentials credentials, SealedValues runs, Changes changes, TransactionTemplate transaction) {
        this.seal = seal;
        this.credentials = credentials;
        this.runs = runs;
        this.changes = changes;
        this.transaction = transaction;
    }

    /**
     * Makes a new key and seals every secret again under it. The old key is dropped only when that is durable, so that
     * a fault at any moment leaves all secrets readable.
     */
    @PostMapping("/api/v1/keys/rotation")
    Rotated rotate(@AuthenticationPrincipal Caller caller) throws IOException {
        caller.require(Deed.ROTATE_KEYS);
        seal.makeKey();
        int ofRuns = runs.sealAgain();
        Rotated rotated = transaction.execute(status -> {
            var done = new Rotated(credentials.sealAgain(), ofRuns);
            changes.record(caller, "rotated", "key", "", "", done.credentials() + " credentials sealed again");
            return done;
        });
        // once more for what others sealed under the old key and had not committed by then
        transaction.executeWithoutResult(status -> credentials.sealAgain());
        runs.sealAgain();
        seal.dropOldKeys();
        return rotated;
    }
}
