package org.gantrel.service.work;

import java.net.InetAddress;
import java.net.NetworkInterface;
import java.net.SocketException;
import java.net.URI;
import java.net.UnknownHostException;
import java.util.List;
import java.util.Optional;
import org.gantrel.service.settings.Network;
import org.gantrel.service.settings.Settings;
import org.springframework.core.env.Environment;
import org.springframework.stereotype.Component;

/**
 * Says where requests of jobs may go. The service's own address, and addresses that only mean something on the host itself
 * or its link, are never asked: from there a job could reach what trusts the host. A name is judged by all that it stands
 * for; the platform keeps the answer, so that what is asked a moment later is what was judged.
 */
@Component
public class Destinations {

    /** Where hosts in a cloud are told their keys; most such addresses are of the link (RFC 3927) anyway. */
    private static final List<String> METADATA = List.of("169.254.0.0/16", "fd00:ec2::254", "100.100.100.200");

    private final Settings settings;
    private final Environment environment;

    Destinations(Settings settings, Environment environment) {
        this.settings = settings;
        this.environment = environment;
    }

    /** What speaks against a request to an address; nothing where one may go there. */
    public Optional<String> complaint(URI uri) {
        try {
            check(uri);
            return Optional.empty();
        } catch (WorkFailed e) {
            return Optional.of(e.getMessage());
        }
    }

    /** @throws WorkFailed where no request of a job goes */
    void check(URI uri) {
        String host = uri.getHost();
        String scheme = String.valueOf(uri.getScheme());
        if (host == null || !(scheme.equalsIgnoreCase("http") || scheme.equalsIgnoreCase("https"))) {
            throw new WorkFailed("'" + uri + "' is no address to ask: http://HOST/... or https://HOST/... would be");
        }
        String plain = host.replaceAll("^\\[|]$", "");
        int usual = scheme.equalsIgnoreCase("https") ? 443 : 80;
        try {
            for (InetAddress address : InetAddress.getAllByName(plain)) {
                if (isRefused(plain, address, uri.getPort() < 0 ? usual : uri.getPort())) {
                    throw new WorkFailed("no request of a job goes to " + uri.getAuthority()
                            + "; the administrator decides that (http-allow, http-deny)");
                }
            }
        } catch (UnknownHostException e) {
            throw new WorkFailed("there is no host '" + plain + "'");
        }
    }

    /**
     * The same for a request that leaves from another host, which may know names that this one does not, and whose own
     * addresses are its own.
     *
     * @throws WorkFailed where no request of a job goes
     */
    void checkFromElsewhere(URI uri) {
        String host = String.valueOf(uri.getHost()).replaceAll("^\\[|]$", "");
        Settings.Reach reach = settings.reach();
        boolean refused = !String.valueOf(uri.getScheme()).matches("(?i)https?");
        try {
            for (InetAddress address : InetAddress.getAllByName(host)) {
                refused |= address.isAnyLocalAddress()
                        || address.isLinkLocalAddress()
                        || METADATA.stream().anyMatch(network -> Network.holds(network, host, address))
                        || reach.deny().stream().anyMatch(network -> Network.holds(network, host, address))
                        || (!reach.allow().isEmpty()
                                && reach.allow().stream().noneMatch(network -> Network.holds(network, host, address)));
            }
        } catch (UnknownHostException e) {
            refused |= !reach.allow().isEmpty();
        }
        if (refused) {
            throw new WorkFailed("no request of a job goes to " + uri.getAuthority()
                    + "; the administrator decides that (http-allow, http-deny)");
        }
    }

    private boolean isRefused(String host, InetAddress address, int port) {
        Settings.Reach reach = settings.reach();
        return address.isAnyLocalAddress()
                || address.isLinkLocalAddress()
                || address.isMulticastAddress()
                || (port == ownPort() && isOwn(address))
                || METADATA.stream().anyMatch(network -> Network.holds(network, host, address))
                || reach.deny().stream().anyMatch(network -> Network.holds(network, host, address))
                || (!reach.allow().isEmpty()
                        && reach.allow().stream().noneMatch(network -> Network.holds(network, host, address)));
    }

    private int ownPort() {
        return environment.getProperty("local.server.port", Integer.class, settings.port());
    }

    private static boolean isOwn(InetAddress address) {
        try {
            return address.isLoopbackAddress() || NetworkInterface.getByInetAddress(address) != null;
        } catch (SocketException e) {
            return true;
        }
    }
}
