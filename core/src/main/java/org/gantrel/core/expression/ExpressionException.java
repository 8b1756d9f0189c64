package org.gantrel.core.expression;

/** An expression that cannot be read or worked out; the message names the expression and what is wrong. */
public final class ExpressionException extends RuntimeException {

    public ExpressionException(String message) {
        super(message);
    }
}
