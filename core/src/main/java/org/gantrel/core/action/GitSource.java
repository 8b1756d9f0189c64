package org.gantrel.core.action;

import java.time.Duration;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.Template;

/**
 * Files as a Git repository has them at one of its states, taken when a run begins.
 *
 * @param address where the repository is: {@code https://}, {@code http://}, {@code ssh://}, or a full path on this host
 * @param at a branch, a tag, or a commit by its name or at least its first seven digits; {@link #USUAL} for what the repository
 *     itself offers
 * @param credential whom it is asked as; empty for nobody
 * @param otherwise what happens where the repository does not answer
 * @param patience how long it may take to answer
 */
public record GitSource(String address, String at, String credential, Otherwise otherwise, Duration patience) {

    /** The state that a repository offers to whoever asks for none. */
    public static final String USUAL = "HEAD";

    public static final Duration USUAL_PATIENCE = Duration.ofMinutes(1);

    private static final Pattern WEB = Pattern.compile("(?i)https?://[^/@\\s]+/\\S+");
    private static final Pattern SSH =
            Pattern.compile("(?i)ssh://(?:([^/@:\\s]+)@)?([^/@:\\s]+)(?::(\\d{1,5}))?(/\\S+)");
    private static final Pattern SHORT_SSH = Pattern.compile("([^/@:\\s]+@[^/@:\\s]+):([^:\\s]+)");
    private static final Pattern WITH_SECRET =
            Pattern.compile("(?i)[a-z]+://[^/\\s]*:[^/\\s]*@.*|https?://[^/\\s]*@.*");

    /** What no name of a branch or tag holds (git-check-ref-format(1)). */
    private static final Pattern NO_NAME = Pattern.compile(
            "(^[-/].*|.*(\\.\\.|@\\{|//|[\\x00-\\x20\\x7f~^:?*\\[\\\\]).*|.*(/|\\.|\\.lock)$|^@?$)", Pattern.DOTALL);

    private static final int LONGEST_NAME = 250;

    /** What happens where a repository does not answer. */
    public enum Otherwise {
        /** The run fails. */
        FAIL,
        /** It takes the state that is known from the last time. */
        LAST
    }

    /** How a repository is reached. */
    public enum Way {
        WEB,
        SSH,
        PATH
    }

    /**
     * A repository that is reached by SSH.
     *
     * @param user empty where the address names none
     * @param port 0 where the address names none
     */
    public record OverSsh(String user, String host, int port, String path) {}

    /** The same with every expression worked out. */
    public GitSource fill(Bindings known) {
        return new GitSource(known.fill(address), known.fill(at), credential, otherwise, patience);
    }

    /** The same with no more patience than is given. */
    public GitSource within(Duration most) {
        return patience.compareTo(most) <= 0 ? this : new GitSource(address, at, credential, otherwise, most);
    }

    /** How it is reached; by a path where the address is none of the others. */
    public Way way() {
        if (WEB.matcher(address).matches()) {
            return Way.WEB;
        }
        return SSH.matcher(address).matches() ? Way.SSH : Way.PATH;
    }

    /** The parts of an address of the way {@link Way#SSH}. */
    public OverSsh overSsh() {
        Matcher parts = SSH.matcher(address);
        if (!parts.matches()) {
            throw new IllegalStateException(address);
        }
        return new OverSsh(
                Optional.ofNullable(parts.group(1)).orElse(""),
                parts.group(2),
                Optional.ofNullable(parts.group(3)).map(Integer::parseInt).orElse(0),
                parts.group(4));
    }

    /** What is wrong with the address; nothing where it is one, or holds expressions that are not worked out yet. */
    public Optional<String> wrongAddress() {
        if (Template.isFilled(address)) {
            return Optional.empty();
        }
        if (WITH_SECRET.matcher(address).matches()) {
            return Optional.of(
                    "an address is read by everybody and holds no name or password; 'credential' names the one to use");
        }
        if (WEB.matcher(address).matches() || SSH.matcher(address).matches()) {
            return Optional.empty();
        }
        Matcher shortened = SHORT_SSH.matcher(address);
        if (shortened.matches()) {
            String path = shortened.group(2);
            return Optional.of("'" + address + "': ssh://" + shortened.group(1) + (path.startsWith("/") ? "" : "/")
                    + path + " would be right, with the full path on that host");
        }
        boolean plain = address.startsWith("/")
                && address.length() > 1
                && !address.contains("//")
                && !(address + "/").matches("(?s).*/\\.\\.?/.*|.*\\x00.*");
        return plain
                ? Optional.empty()
                : Optional.of("'" + address
                        + "' is no address of a repository; https://HOST/PATH, ssh://HOST/PATH or a full path"
                        + " on this host would be right");
    }

    /** What is wrong with the name of the state; nothing where it can be one. */
    public Optional<String> wrongState() {
        return Template.isFilled(at)
                        || (at.length() <= LONGEST_NAME && !NO_NAME.matcher(at).matches())
                ? Optional.empty()
                : Optional.of("'" + at + "' names no branch, tag or commit");
    }

    /** Whether a path of a file or program is one of its own: from its top, and not out of it. */
    public static boolean isWithin(String path) {
        return !path.startsWith("/") && !("/" + path + "/").contains("/../");
    }
}
