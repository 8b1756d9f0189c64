package org.gantrel.service.run;

import java.util.Map;
import java.util.function.Supplier;
import org.gantrel.core.parameter.ParameterType;

/**
 * A run ends in the transaction under way; what belongs to it is written in the same one.
 *
 * @param gives the results that its job declares
 */
public record RunEnding(Run run, Supplier<Map<String, ParameterType>> gives) {}
