package org.gantrel.service.credential;

import java.util.Map;

/** Who uses credentials. */
public interface CredentialUse {

    /** The jobs in use that act as a credential, or use it beside: their names, with the teams that own them. */
    Map<String, String> ofCredential(String name);
}
