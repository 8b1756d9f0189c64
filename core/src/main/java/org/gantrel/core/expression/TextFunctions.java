package org.gantrel.core.expression;

import dev.cel.runtime.CelFunctionBinding;
import dev.cel.runtime.standard.AddOperator.AddOverload;
import dev.cel.runtime.standard.CelStandardOverload;
import dev.cel.runtime.standard.ContainsFunction.ContainsOverload;
import dev.cel.runtime.standard.MatchesFunction.MatchesOverload;
import java.util.List;
import java.util.Set;
import org.gantrel.core.text.SafePattern;

/** What CEL does with texts where the work grows with their length, within what an expression may do. */
final class TextFunctions {

    /** What an expression may build up. */
    private static final int LARGEST_TEXT = 100_000;

    /** How many characters are compared, or copied, in the time in which a pattern's instruction looks at one. */
    private static final int FASTER = 64;

    /** The functions that are done here. */
    static final Set<CelStandardOverload> OWN = Set.of(
            AddOverload.ADD_STRING,
            ContainsOverload.CONTAINS_STRING,
            MatchesOverload.MATCHES,
            MatchesOverload.MATCHES_STRING);

    private TextFunctions() {}

    static List<CelFunctionBinding> bindings() {
        return List.of(
                CelFunctionBinding.from("add_string", String.class, String.class, TextFunctions::joined),
                CelFunctionBinding.from("contains_string", String.class, String.class, TextFunctions::contains),
                CelFunctionBinding.from("matches", String.class, String.class, TextFunctions::matches),
                CelFunctionBinding.from("matches_string", String.class, String.class, TextFunctions::matches));
    }

    private static Object joined(String first, String second) {
        int length = first.length() + second.length();
        if (length > LARGEST_TEXT) {
            throw new ExpressionException("the text grows beyond " + LARGEST_TEXT + " characters");
        }
        Work.charge(length / FASTER);
        return first + second;
    }

    private static Object contains(String text, String part) {
        Work.charge((long) text.length() * part.length() / FASTER);
        return text.contains(part);
    }

    private static Object matches(String text, String pattern) {
        SafePattern read;
        try {
            read = SafePattern.of(pattern);
        } catch (IllegalArgumentException e) {
            throw new ExpressionException(e.getMessage());
        }
        Work.charge((long) text.length() * read.size());
        return read.isIn(text);
    }
}
