package org.gantrel.core.text;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How large a regular expression becomes (RE2 syntax), found before it is compiled: what is repeated a number of times is
 * written out as often, and a few letters such as {@code ((a{1000}){1000}){1000}} would fill all memory.
 */
final class PatternSize {

    private static final Pattern REPEATED = Pattern.compile("\\{(\\d{1,9})(,(\\d{0,9}))?}");

    /** What every program has: an end that is good, one that is not, and a beginning. */
    private static final int ENDS = 3;

    /** What a group has beside what is in it: its two ends, and something to do where it is empty. */
    private static final int GROUP = 3;

    private final String text;
    private final Deque<Long> groups = new ArrayDeque<>();
    private long sum;
    private long last;
    private int at;

    private PatternSize(String text) {
        this.text = text;
    }

    /** About how many instructions an expression comes to, no fewer than it does; of one that is wrong, some number. */
    static long of(String text) {
        return new PatternSize(text).read();
    }

    private long read() {
        while (at < text.length()) {
            char letter = text.charAt(at);
            switch (letter) {
                case '\\' -> escape();
                case '[' -> {
                    skipClass();
                    atom(1);
                }
                case '(' -> {
                    groups.push(sum);
                    sum = 0;
                    last = 0;
                    at++;
                }
                case ')' -> {
                    long inner = sum;
                    sum = groups.isEmpty() ? 0 : groups.pop();
                    atom(inner + GROUP);
                    at++;
                }
                case '{' -> repeated();
                default -> {
                    if (letter == '*' || letter == '+' || letter == '?') {
                        sum++;
                        last++;
                    } else {
                        // an empty alternative is an instruction as well
                        atom(letter == '|' ? 2 : 1);
                    }
                    at++;
                }
            }
        }
        while (!groups.isEmpty()) {
            sum += groups.pop();
        }
        return sum + ENDS;
    }

    private void atom(long size) {
        last = size;
        sum += size;
    }

    private void escape() {
        boolean quoted = text.startsWith("\\Q", at);
        int end = quoted ? text.indexOf("\\E", at) : -1;
        if (quoted) {
            int until = end < 0 ? text.length() : end;
            sum += Math.max(0, until - at - 2);
            last = 1;
            at = end < 0 ? until : end + 2;
            return;
        }
        boolean named = at + 2 < text.length() && "pPx".indexOf(text.charAt(at + 1)) >= 0 && text.charAt(at + 2) == '{';
        int close = named ? text.indexOf('}', at) : -1;
        at = close < 0 ? at + 2 : close + 1;
        atom(1);
    }

    /** A class is one instruction, whatever stands in it. */
    private void skipClass() {
        at++;
        if (at < text.length() && text.charAt(at) == '^') {
            at++;
        }
        // a closing bracket that comes first is a letter
        int first = at;
        while (at < text.length() && (text.charAt(at) != ']' || at == first)) {
            int named = text.startsWith("[:", at) ? text.indexOf(":]", at) : -1;
            at = text.charAt(at) == '\\' ? at + 2 : named < 0 ? at + 1 : named + 2;
        }
        at++;
    }

    private void repeated() {
        Matcher times = REPEATED.matcher(text).region(at, text.length());
        if (!times.lookingAt()) {
            atom(1);
            at++;
            return;
        }
        long least = Long.parseLong(times.group(1));
        boolean open = times.group(2) != null && times.group(3).isEmpty();
        long most = times.group(2) == null || open ? least : Long.parseLong(times.group(3));
        // where the number is not exact, a repetition may be left out, which is an instruction more
        long each = times.group(2) == null ? last : last + 1;
        long size = each * Math.max(1, Math.max(least, most) + (open ? 1 : 0));
        // beyond this it is too large whatever comes
        size = Math.min(size, Integer.MAX_VALUE);
        sum = Math.min(sum - last + size, Integer.MAX_VALUE);
        last = size;
        at = times.end();
    }
}
