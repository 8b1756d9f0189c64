package org.gantrel.service.settings;

import java.net.InetAddress;
import java.util.Locale;
import java.util.regex.Pattern;
import org.springframework.security.web.util.matcher.IpAddressMatcher;

/** Networks in CIDR notation (RFC 4632), single addresses, and names of hosts with {@code *.} for all below. */
public final class Network {

    private static final Pattern ADDRESS = Pattern.compile("[0-9A-Fa-f.:]+(/\\d{1,3})?");
    private static final Pattern HOST = Pattern.compile("(\\*\\.)?[A-Za-z0-9]([A-Za-z0-9.-]*[A-Za-z0-9])?");

    private Network() {}

    private static boolean isAddress(String text) {
        return ADDRESS.matcher(text).matches() && (text.contains(":") || text.matches("[0-9./]+"));
    }

    static boolean isOne(String text) {
        if (!isAddress(text)) {
            return HOST.matcher(text).matches();
        }
        try {
            new IpAddressMatcher(text).matches("0.0.0.0");
            return true;
        } catch (IllegalArgumentException e) {
            return false;
        }
    }

    /**
     * Whether an address lies in a network, or a host bears a name.
     *
     * @param host as it was asked for
     * @param address what the name stands for
     */
    public static boolean holds(String network, String host, InetAddress address) {
        if (isAddress(network)) {
            return new IpAddressMatcher(network)
                    .matches(address.getHostAddress().replaceFirst("%.*", ""));
        }
        String name = network.toLowerCase(Locale.ROOT);
        String asked = host.toLowerCase(Locale.ROOT).replaceFirst("\\.$", "");
        return name.startsWith("*.") ? asked.endsWith(name.substring(1)) : asked.equals(name);
    }
}
