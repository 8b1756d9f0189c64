package org.gantrel.service.beside;

import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.CharsetEncoder;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The characters that this process can give to others: names of files, arguments and variables reach the host in the character
 * set of the locale that it was started in (POSIX, Base Definitions, chapter 7), and Java writes a question mark for what that
 * cannot say.
 */
public final class CharacterSet {

    private static final List<String> VARIABLES = List.of("LANG", "LC_ALL", "LC_CTYPE");

    private static final String RIGHT = "LC_ALL=C.UTF-8 in its environment would be right";

    /** That of this process. */
    public static final CharacterSet OWN = new CharacterSet(ofThisProcess());

    private final Charset charset;

    CharacterSet(Charset charset) {
        this.charset = charset;
    }

    private static Charset ofThisProcess() {
        String name = System.getProperty("sun.jnu.encoding", "");
        return Charset.isSupported(name) ? Charset.forName(name) : StandardCharsets.US_ASCII;
    }

    /** The names of variables that a process is to have of this one's environment, with those that decide the character set. */
    public static Set<String> and(String... names) {
        return Stream.concat(Stream.of(names), VARIABLES.stream()).collect(Collectors.toUnmodifiableSet());
    }

    /** What will go wrong with it; nothing where it can say everything. */
    public Optional<String> complaint() {
        return charset.newEncoder().canEncode("\u00f8\u6e2f")
                ? Optional.empty()
                : Optional.of("the service runs in the character set " + charset.name()
                        + ", so files and arguments with other characters cannot be used; " + RIGHT);
    }

    /**
     * Looks at all that a process will be given.
     *
     * @throws IOException where something would not reach it as it is; the message names one character, and no more
     */
    public void check(ProcessBuilder builder) throws IOException {
        CharsetEncoder encoder = charset.newEncoder();
        Optional<String> lost = Stream.concat(builder.command().stream(), builder.environment().values().stream())
                .filter(text -> !encoder.canEncode(text))
                .flatMap(text -> text.codePoints().mapToObj(Character::toString))
                .filter(letter -> !encoder.canEncode(letter))
                .findFirst();
        if (lost.isPresent()) {
            throw new IOException("the character U+%04X cannot be given to a program in the character set %s%s"
                    .formatted(
                            lost.get().codePointAt(0),
                            charset.name(),
                            complaint().isPresent() ? " that the service runs in; " + RIGHT : ""));
        }
    }
}
