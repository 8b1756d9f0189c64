package org.gantrel.service.work;

import java.net.Inet6Address;
import java.net.InetAddress;
import java.net.NetworkInterface;
import java.net.SocketException;
import java.net.URI;
import java.net.UnknownHostException;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.util.List;
import java.util.Optional;
import org.gantrel.service.settings.Network;
import org.gantrel.service.settings.Settings;
import org.springframework.core.env.Environment;
import org.springframework.stereotype.Component;

/**
 * Says where requests of jobs may go. The service's own address, and addresses that only mean something on the host itself
 * or its link, are never asked: from there a job could reach what trusts the host. A name is judged by all that it stands
 * for, and a request goes to what was judged: a name that means something else a moment later wins nothing. Over TLS that
 * needs no help, since the other side has to prove that it is who the name says.
 */
@Component
public class Destinations {

    static {
        // requests that go to an address say the name that they are for, which the platform lets nobody say otherwise
        System.setProperty("jdk.httpclient.allowRestrictedHeaders", "host");
        System.setProperty("sun.net.http.allowRestrictedHeaders", "true");
    }

    /**
     * Where a request goes.
     *
     * @param address with the address that was judged in the place of a name
     * @param host what the request says that it is for (RFC 9110, 7.2); nothing where that is the address itself
     */
    public record Way(URI address, Optional<String> host) {

        /** The request as it is to be sent; a name that it says by itself stays. */
        public HttpRequest lead(HttpRequest request) {
            if (host.isEmpty()) {
                return request;
            }
            HttpRequest.Builder led = HttpRequest.newBuilder(request, (name, value) -> true)
                    .uri(address)
                    // the next version would name the address instead
                    .version(HttpClient.Version.HTTP_1_1);
            if (request.headers().firstValue("Host").isEmpty()) {
                led.setHeader("Host", host.get());
            }
            return led.build();
        }
    }

    /** Where hosts in a cloud are told their keys; most such addresses are of the link (RFC 3927) anyway. */
    private static final List<String> METADATA = List.of("169.254.0.0/16", "fd00:ec2::254", "100.100.100.200");

    private final Settings settings;
    private final Environment environment;

    Destinations(Settings settings, Environment environment) {
        this.settings = settings;
        this.environment = environment;
    }

    /** @throws WorkFailed where no request of a job goes */
    void check(URI uri) {
        way(uri);
    }

    /**
     * Where a request for an address goes.
     *
     * @throws WorkFailed where no request of a job goes
     */
    public Way way(URI uri) {
        String host = uri.getHost();
        String scheme = String.valueOf(uri.getScheme());
        if (host == null || !(scheme.equalsIgnoreCase("http") || scheme.equalsIgnoreCase("https"))) {
            throw new WorkFailed("'" + uri + "' is no address to ask: http://HOST/... or https://HOST/... would be");
        }
        String plain = host.replaceAll("^\\[|]$", "");
        int usual = scheme.equalsIgnoreCase("https") ? 443 : 80;
        try {
            InetAddress[] addresses = InetAddress.getAllByName(plain);
            for (InetAddress address : addresses) {
                if (isRefused(plain, address, uri.getPort() < 0 ? usual : uri.getPort())) {
                    throw new WorkFailed("no request of a job goes to " + uri.getAuthority()
                            + "; the administrator decides that (http-allow, http-deny)");
                }
            }
            return usual == 443 || plain.equals(addresses[0].getHostAddress())
                    ? new Way(uri, Optional.empty())
                    : pinned(uri, addresses[0]);
        } catch (UnknownHostException e) {
            throw new WorkFailed("there is no host '" + plain + "'");
        }
    }

    private static Way pinned(URI uri, InetAddress address) {
        String plain = address.getHostAddress();
        String path = Optional.ofNullable(uri.getRawPath()).orElse("");
        String query = uri.getRawQuery() == null ? "" : "?" + uri.getRawQuery();
        String port = uri.getPort() < 0 ? "" : ":" + uri.getPort();
        String at = address instanceof Inet6Address ? "[" + plain + "]" : plain;
        return new Way(URI.create("http://" + at + port + path + query), Optional.of(uri.getHost() + port));
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
