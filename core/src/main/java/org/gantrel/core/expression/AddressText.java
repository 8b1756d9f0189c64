package org.gantrel.core.expression;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.regex.Pattern;

/**
 * Values in an address (RFC 3986): what a value holds stays within the part that its author gave it, so that none is read as
 * the end of a path or as another parameter.
 */
final class AddressText {

    /** What would make something else of a host: what stood before it would be a name, or what follows no path. */
    private static final Pattern NO_HOST = Pattern.compile("[@?#\\\\]");

    private AddressText() {}

    /**
     * How a value is written.
     *
     * @param before the address up to there; where there is nothing, the value is the address, or its beginning
     * @throws ExpressionException where it has no place there
     */
    static String written(CharSequence before, String value) {
        String address = before.toString();
        int scheme = address.indexOf("://");
        if (scheme < 0) {
            return value;
        }
        String rest = address.substring(scheme + 3);
        boolean host = rest.chars().noneMatch(letter -> letter == '/' || letter == '?' || letter == '#');
        if (host && (value.startsWith("/") || !NO_HOST.matcher(value).find())) {
            // the host, or all that follows it
            return value;
        }
        if (host) {
            throw new ExpressionException("'" + value + "' stands for a host in an address, and is none");
        }
        boolean path = rest.indexOf('?') < 0 && rest.indexOf('#') < 0;
        if (path && (value.equals(".") || value.equals(".."))) {
            throw new ExpressionException(
                    "'" + value + "' stands for a part of the path of an address, and leads out of it");
        }
        // a blank is written so everywhere; a plus means one in forms only (WHATWG URL, 5.1)
        return URLEncoder.encode(value, StandardCharsets.UTF_8).replace("+", "%20");
    }
}
