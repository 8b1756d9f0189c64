package org.gantrel.core.sweep;

import java.math.BigDecimal;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.regex.Pattern;
import org.gantrel.core.expression.ValueKind;
import org.gantrel.core.parameter.ParameterType;

/**
 * What a sweep gives: how many rows there were, how many of them succeeded and failed, and of each number that its rows give
 * the sum over those that ended well. What is not a number in every one of them is not given.
 */
public final class Sums {

    /** So many names are added up; what further ones are given is the rows' own. */
    public static final int MOST = 50;

    private static final Pattern NAME = Pattern.compile("[^\\p{Cntrl}\"\\\\]{1,100}");
    private static final Pattern NUMBER = Pattern.compile("-?(0|[1-9]\\d{0,17})(\\.\\d{1,18})?([eE][+-]?[0-2]?\\d)?");
    private static final String NONE = "";

    private Sums() {}

    /**
     * The sums with what one more row gave.
     *
     * @param sums by name; empty where something else than a number came by that name
     * @param given what the row gave
     * @param declared what its job declares to give
     */
    public static Map<String, String> with(
            Map<String, String> sums, Map<String, String> given, Map<String, ParameterType> declared) {
        Map<String, String> all = new LinkedHashMap<>(sums);
        given.forEach((name, value) -> {
            boolean known = all.containsKey(name)
                    || all.size() < MOST && NAME.matcher(name).matches();
            if (known && declared.getOrDefault(name, ParameterType.NUMBER).kind() == ValueKind.NUMBER) {
                all.merge(name, number(value), Sums::plus);
            }
        });
        return all;
    }

    /** Two sums together. */
    public static Map<String, String> together(Map<String, String> some, Map<String, String> others) {
        Map<String, String> all = new LinkedHashMap<>(some);
        others.forEach((name, sum) -> {
            if (all.containsKey(name) || all.size() < MOST) {
                all.merge(name, sum, Sums::plus);
            }
        });
        return all;
    }

    private static String number(String value) {
        return NUMBER.matcher(value).matches() ? new BigDecimal(value).toPlainString() : NONE;
    }

    private static String plus(String one, String other) {
        return one.equals(NONE) || other.equals(NONE)
                ? NONE
                : new BigDecimal(one).add(new BigDecimal(other)).toPlainString();
    }

    /**
     * What a sweep gives in the end. A number that the job declares and no row gave is 0.
     *
     * @param counts how many rows there were and what became of them, which goes before the rows' own
     */
    public static Map<String, String> results(
            Map<String, String> sums, Map<String, ParameterType> declared, Map<String, String> counts) {
        Map<String, String> all = new LinkedHashMap<>(counts);
        sums.forEach((name, sum) -> {
            if (!sum.equals(NONE)) {
                all.putIfAbsent(name, sum);
            }
        });
        declared.forEach((name, type) -> {
            if (type.kind() == ValueKind.NUMBER && !sums.containsKey(name)) {
                all.putIfAbsent(name, "0");
            }
        });
        return all;
    }

    /** What a sweep of a job that declares what it gives will give. */
    public static Map<String, ValueKind> kinds(Map<String, ParameterType> declared) {
        Map<String, ValueKind> kinds = new HashMap<>();
        for (String count : new String[] {"rows", "succeeded", "failed"}) {
            kinds.put(count, ValueKind.NUMBER);
        }
        declared.forEach((name, type) -> {
            if (type.kind() == ValueKind.NUMBER) {
                kinds.put(name, ValueKind.NUMBER);
            }
        });
        return kinds;
    }
}
