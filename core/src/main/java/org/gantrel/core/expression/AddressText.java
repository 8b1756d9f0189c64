package org.gantrel.core.expression;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.regex.Pattern;

/**
 * Values in an address (RFC 3986): what a value holds stays within the part that its author gave it, so that none is read as
 * the end of a path or as another parameter.
 */
final class AddressText implements Template.Writing {

    /** What would make something else of a host: what stood before it would be a name, or what follows no path. */
    private static final Pattern NO_HOST = Pattern.compile("[@?#\\\\]");

    /** More before a scheme is no address any more. */
    private static final int LONGEST_START = 8_000;

    private final StringBuilder start = new StringBuilder();
    private boolean inPath;
    private boolean inQuery;

    @Override
    public void plain(String text) {
        if (!inPath && start.length() < LONGEST_START) {
            start.append(text);
            hear();
        } else if (inPath) {
            inQuery |= text.indexOf('?') >= 0 || text.indexOf('#') >= 0;
        }
    }

    /** Where the host ends, what follows is path or query. */
    private void hear() {
        int scheme = start.indexOf("://");
        String rest = scheme < 0 ? "" : start.substring(scheme + 3);
        inQuery = rest.indexOf('?') >= 0 || rest.indexOf('#') >= 0;
        inPath = inQuery || rest.indexOf('/') >= 0;
    }

    /** @throws ExpressionException where a value has no place where it stands */
    @Override
    public String of(String value) {
        if (!inPath) {
            boolean host = start.indexOf("://") >= 0;
            if (host && !value.startsWith("/") && NO_HOST.matcher(value).find()) {
                throw new ExpressionException("'" + value + "' stands for a host in an address, and is none");
            }
            // the address or its beginning, the host, or all that follows it
            plain(value);
            return value;
        }
        if (!inQuery && (value.equals(".") || value.equals(".."))) {
            throw new ExpressionException(
                    "'" + value + "' stands for a part of the path of an address, and leads out of it");
        }
        // a blank is written so everywhere; a plus means one in forms only (WHATWG URL, 5.1)
        return URLEncoder.encode(value, StandardCharsets.UTF_8).replace("+", "%20");
    }
}
