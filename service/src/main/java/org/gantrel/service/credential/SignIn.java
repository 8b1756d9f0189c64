package org.gantrel.service.credential;

import java.util.Optional;
import org.gantrel.core.credential.Credential;

/** Really signs in with a credential, and does nothing more. */
public interface SignIn {

    /** Why it could not be signed in; nothing where it works. */
    Optional<String> complaint(Credential credential);

    /** What was found where it works. */
    String done(Credential credential);
}
