package org.gantrel.core.chain;

import org.gantrel.core.expression.ExpressionException;

/** Works out conditions over the results of steps. */
public interface Conditions {

    /** For chains without any. */
    Conditions NONE = expression -> {
        throw new ExpressionException("'" + expression + "': no results are known here");
    };

    /**
     * Whether a condition holds.
     *
     * @throws ExpressionException where it cannot be worked out
     */
    boolean hold(String expression);
}
