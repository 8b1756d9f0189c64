package org.gantrel.service.execution;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.gantrel.service.run.RunValues;
import org.springframework.web.util.HtmlUtils;
import tools.jackson.databind.json.JsonMapper;

/** Covers secret values wherever a command printed them. */
public final class Mask {

    /** Shorter ones would cover what has nothing to do with them. */
    private static final int SHORTEST_IN_BASE64 = 8;

    private final List<String> secrets;

    private Mask(Collection<String> secrets) {
        // the longest first, so that a secret within another does not leave the rest of it readable
        this.secrets = secrets.stream()
                .filter(secret -> !secret.isBlank())
                .flatMap(Mask::forms)
                .distinct()
                .sorted(Comparator.comparingInt(String::length).reversed())
                .toList();
    }

    /** A secret as it is, and as it reads in an address (RFC 3986, 2.1), in a form, in JSON, in XML and in base64 (RFC 4648). */
    private static Stream<String> forms(String secret) {
        String form = URLEncoder.encode(secret, StandardCharsets.UTF_8);
        String html = HtmlUtils.htmlEscape(secret, StandardCharsets.UTF_8.name());
        String json = JsonMapper.shared().writeValueAsString(secret);
        var forms = new ArrayList<>(List.of(
                secret,
                form,
                form.replace("+", "%20"),
                json.substring(1, json.length() - 1),
                html,
                html.replace("&#39;", "&apos;")));
        byte[] bytes = secret.getBytes(StandardCharsets.UTF_8);
        for (int before = 0; before < 3; before++) {
            // what stands before and after it in a longer text shares letters with it, which are left out
            var shifted = new byte[before + bytes.length];
            System.arraycopy(bytes, 0, shifted, before, bytes.length);
            String text = Base64.getEncoder().withoutPadding().encodeToString(shifted);
            int first = before == 0 ? 0 : before + 1;
            int last = shifted.length % 3 == 0 ? text.length() : text.length() - 1;
            if (last - first >= SHORTEST_IN_BASE64) {
                String inner = text.substring(first, last);
                forms.add(inner);
                forms.add(inner.replace('+', '-').replace('/', '_'));
            }
        }
        return forms.stream();
    }

    /** Covers these texts. */
    public static Mask of(Collection<String> secrets) {
        return new Mask(secrets);
    }

    /** What is to be covered where a text is read line by line: the longest first, a line each. */
    public static String lines(Collection<String> secrets) {
        return String.join(
                "\n",
                new Mask(secrets.stream().flatMap(String::lines).distinct().toList()).secrets);
    }

    public static Mask of(Map<String, String> secrets) {
        return new Mask(secrets.values());
    }

    public String over(String text) {
        String masked = text;
        for (String secret : secrets) {
            masked = masked.replace(secret, RunValues.MASK);
        }
        return masked;
    }
}
