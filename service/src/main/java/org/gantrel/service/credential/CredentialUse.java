package org.gantrel.service.credential;

import java.util.List;

/** Who uses credentials. */
public interface CredentialUse {

    /** The jobs in use that act as a credential, or use it beside. */
    List<String> ofCredential(String name);
}
