package org.gantrel.service.remote;

import java.io.IOException;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.springframework.stereotype.Component;

/** Makes ways to addresses as other hosts see them. */
@Component
public class Tunnels {

    private final RemoteHosts hosts;

    Tunnels(RemoteHosts hosts) {
        this.hosts = hosts;
    }

    /**
     * A way to one address from a host.
     *
     * @param from the host, by a credential of the kind {@code ssh}; it is connected to when the first request goes
     */
    public Tunnel through(Credential from, String target, int port) throws IOException {
        if (from.kind() != CredentialKind.SSH) {
            throw new IOException("'" + from.name() + "' is no host: a credential of the kind ssh would be");
        }
        RemoteHost host = hosts.take(from);
        try {
            return new Tunnel(host, () -> hosts.giveBack(from), target, port);
        } catch (IOException e) {
            hosts.giveBack(from);
            throw e;
        }
    }
}
