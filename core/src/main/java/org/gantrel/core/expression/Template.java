package org.gantrel.core.expression;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.UnaryOperator;

/** A text with expressions in {@code ${...}}; {@code $${} stands for the characters themselves. */
public final class Template {

    private sealed interface Piece {
        record Plain(String text) implements Piece {}

        record Hole(String expression) implements Piece {}
    }

    private final List<Piece> pieces;

    private Template(List<Piece> pieces) {
        this.pieces = pieces;
    }

    /**
     * Takes a text apart.
     *
     * @throws ExpressionException where a <code>${</code> is not closed
     */
    public static Template of(String text) {
        var pieces = new ArrayList<Piece>();
        int at = 0;
        while (at < text.length()) {
            int open = text.indexOf("${", at);
            if (open < 0) {
                break;
            }
            if (open > at && text.charAt(open - 1) == '$') {
                pieces.add(new Piece.Plain(text.substring(at, open - 1) + "${"));
                at = open + 2;
                continue;
            }
            int close = text.indexOf('}', open);
            if (close < 0) {
                throw new ExpressionException("'" + text.substring(open) + "': the '${' is not closed by a '}'");
            }
            pieces.add(new Piece.Plain(text.substring(at, open)));
            pieces.add(new Piece.Hole(text.substring(open + 2, close).strip()));
            at = close + 1;
        }
        pieces.add(new Piece.Plain(text.substring(at)));
        return new Template(pieces);
    }

    /** Whether a text has expressions, or means to; one that is not closed is for the check to complain of. */
    public static boolean isFilled(String text) {
        try {
            return of(text).hasExpressions();
        } catch (ExpressionException e) {
            return true;
        }
    }

    /** Whether an expression in a text speaks of one of some names. */
    public static boolean speaksOf(String text, Collection<String> names) {
        try {
            return of(text).pieces.stream()
                    .filter(Piece.Hole.class::isInstance)
                    .map(piece -> ((Piece.Hole) piece).expression())
                    .anyMatch(expression ->
                            Arrays.stream(expression.split("[^A-Za-z0-9_]+")).anyMatch(names::contains));
        } catch (ExpressionException e) {
            return false;
        }
    }

    public boolean hasExpressions() {
        return pieces.stream().anyMatch(Piece.Hole.class::isInstance);
    }

    /**
     * Checks every expression against the names that will be known.
     *
     * @throws ExpressionException for the first that does not type-check
     */
    public void check(Collection<String> names) {
        check(names, StepFacts.Shapes.NONE);
    }

    /** The same where results of earlier steps are known too. */
    public void check(Collection<String> names, StepFacts.Shapes steps) {
        for (Piece piece : pieces) {
            if (piece instanceof Piece.Hole hole && !names.contains(hole.expression())) {
                Expressions.check(hole.expression(), names, steps);
            }
        }
    }

    /**
     * Checks a condition: an expression by itself, that is so or not.
     *
     * @throws ExpressionException where it does not type-check, or is none
     */
    public static void checkCondition(String expression, Collection<String> names, StepFacts.Shapes steps) {
        Expressions.checkCondition(expression, names, steps);
    }

    /**
     * The text with every expression worked out.
     *
     * @throws ExpressionException where one cannot be
     */
    public String fill(Map<String, String> values, PlannedTime planned) {
        return new Bindings(values, planned).fill(this);
    }

    /** What an expression came to. */
    record Meaning(String text, ValueKind kind) {}

    /** The text, which is JSON, with each expression as JSON writes what it stands for. */
    String fillJson(Function<String, Meaning> meaning) {
        var text = new StringBuilder();
        boolean quoted = false;
        for (Piece piece : pieces) {
            if (piece instanceof Piece.Plain plain) {
                text.append(plain.text());
                quoted = JsonText.quotedAfter(plain.text(), quoted);
            } else if (piece instanceof Piece.Hole hole) {
                Meaning found = meaning.apply(hole.expression());
                text.append(
                        quoted ? JsonText.escaped(found.text()) : found.kind().inJson(found.text()));
            }
        }
        return text.toString();
    }

    /** How the values of one text are written, by what stands before them; it hears all of the text, piece by piece. */
    @FunctionalInterface
    public interface Writing {
        /** How a value is written where it stands. */
        String of(String value);

        /** Hears what stands between values. */
        default void plain(String text) {}
    }

    /** The text with each expression as the place that it stands in writes it. */
    String fill(UnaryOperator<String> meaning, Writing writing) {
        var text = new StringBuilder();
        for (Piece piece : pieces) {
            if (piece instanceof Piece.Plain plain) {
                writing.plain(plain.text());
                text.append(plain.text());
            } else if (piece instanceof Piece.Hole hole) {
                text.append(writing.of(meaning.apply(hole.expression())));
            }
        }
        return text.toString();
    }

    /** The text, plain and with its expressions, as it stands between the quotes of a text of JSON. */
    public String quoted() {
        var text = new StringBuilder();
        for (Piece piece : pieces) {
            if (piece instanceof Piece.Plain plain) {
                text.append(JsonText.escaped(plain.text()).replace("${", "$${"));
            } else if (piece instanceof Piece.Hole hole) {
                text.append("${").append(hole.expression()).append('}');
            }
        }
        return text.toString();
    }

    /** Whether it is one expression and nothing else. */
    public boolean isOneExpression() {
        return hasExpressions()
                && pieces.stream().filter(Piece.Hole.class::isInstance).count() == 1
                && pieces.stream()
                        .allMatch(piece -> piece instanceof Piece.Hole
                                || ((Piece.Plain) piece).text().isEmpty());
    }

    /** The expressions in it. */
    public List<String> expressions() {
        return pieces.stream()
                .filter(Piece.Hole.class::isInstance)
                .map(piece -> ((Piece.Hole) piece).expression())
                .toList();
    }

    /** The text with each expression replaced by what it stands for. */
    public String fill(UnaryOperator<String> meaning) {
        var text = new StringBuilder();
        for (Piece piece : pieces) {
            if (piece instanceof Piece.Plain plain) {
                text.append(plain.text());
            } else if (piece instanceof Piece.Hole hole) {
                text.append(meaning.apply(hole.expression()));
            }
        }
        return text.toString();
    }
}
