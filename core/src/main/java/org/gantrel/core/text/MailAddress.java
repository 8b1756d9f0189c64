package org.gantrel.core.text;

import java.util.regex.Pattern;

/** What mail addresses look like, as far as their form goes: no spaces, commas or quotation marks, so that one is one. */
public final class MailAddress {

    private static final Pattern FORM = Pattern.compile("[^\\s\\p{Cntrl}@<>,;\"]{1,64}@[^\\s\\p{Cntrl}@<>,;\"]{1,190}");

    private MailAddress() {}

    public static boolean isOne(String text) {
        return FORM.matcher(text).matches();
    }
}
