package org.gantrel.core.action;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.Template;

/**
 * A line for a shell whose values come by variables, so that no value is ever read as code (IEEE Std 1003.1, Shell Command
 * Language, section 2.2): each expression becomes a variable, in the quotes that its place in the line asks for.
 */
final class ShellLine {

    static final String VARIABLE = "GANTREL_VALUE_";

    private static final char MARK = '\uE000';
    private static final Pattern HERE = Pattern.compile("<<-?\\s*(['\"\\\\]?)([A-Za-z_][A-Za-z0-9_]*)['\"]?");

    /** What the shell reads at a place of the line. */
    private enum In {
        PLAIN,
        DOUBLE,
        SINGLE,
        BACKQUOTES
    }

    private final String line;
    private final StringBuilder script = new StringBuilder();
    private final Deque<In> stack = new ArrayDeque<>();
    private final List<String> endings = new ArrayList<>();
    private final List<Integer> outside = new ArrayList<>();
    private int values;
    private int at;

    private ShellLine(String line) {
        this.line = line;
        stack.push(In.PLAIN);
    }

    /** What a shell is to read, and the variables that it reads in it. */
    record Script(String text, Map<String, String> variables) {}

    static Script of(String text, Bindings known) {
        Bindings.Bound bound = known.bind(text, String.valueOf(MARK));
        var variables = new LinkedHashMap<String, String>();
        for (String value : bound.values()) {
            variables.put(VARIABLE + (variables.size() + 1), value);
        }
        return new Script(new ShellLine(bound.text()).script(), variables);
    }

    /** The expressions that stand outside quotes, where pasting them would have made several words of one value. */
    static List<String> unquoted(String text) {
        Template template = Template.of(text);
        var line = new ShellLine(template.fill(expression -> String.valueOf(MARK)));
        line.script();
        List<String> expressions = template.expressions();
        return line.outside.stream().map(expressions::get).distinct().toList();
    }

    private String script() {
        while (at < line.length()) {
            char letter = line.charAt(at);
            if (letter == MARK) {
                variable(stack.peek());
                at++;
            } else if (letter == '\\'
                    && stack.peek() != In.SINGLE
                    && at + 1 < line.length()
                    && line.charAt(at + 1) != MARK) {
                take(2);
            } else if (letter == '\n' && !endings.isEmpty() && stack.size() == 1) {
                take(1);
                documents();
            } else {
                read(letter);
            }
        }
        return script.toString();
    }

    private void read(char letter) {
        switch (stack.peek()) {
            case SINGLE -> {
                if (letter == '\'') {
                    stack.pop();
                }
                take(1);
            }
            case DOUBLE -> inDouble(letter);
            default -> plain(letter);
        }
    }

    private void inDouble(char letter) {
        if (letter == '"') {
            stack.pop();
        } else if (letter == '`') {
            stack.push(In.BACKQUOTES);
        } else if (line.startsWith("$(", at)) {
            stack.push(In.PLAIN);
            take(1);
        }
        take(1);
    }

    private void plain(char letter) {
        Matcher here = HERE.matcher(line).region(at, line.length());
        if (letter == '#' && (at == 0 || " \t\n;&|(".indexOf(line.charAt(at - 1)) >= 0)) {
            comment();
            return;
        }
        if (here.lookingAt() && stack.size() == 1 && !line.startsWith("<<<", at)) {
            endings.add(here.group(2));
            take(here.end() - at);
            return;
        }
        switch (letter) {
            case '\'' -> stack.push(In.SINGLE);
            case '"' -> stack.push(In.DOUBLE);
            case '(' -> stack.push(In.PLAIN);
            case ')' -> leave(In.PLAIN);
            case '`' -> {
                if (stack.peek() == In.BACKQUOTES) {
                    stack.pop();
                } else {
                    stack.push(In.BACKQUOTES);
                }
            }
            default -> {
                take(1);
                return;
            }
        }
        take(1);
    }

    private void leave(In what) {
        if (stack.size() > 1 && stack.peek() == what) {
            stack.pop();
        }
    }

    private void comment() {
        while (at < line.length() && line.charAt(at) != '\n') {
            if (line.charAt(at) == MARK) {
                values++;
            } else {
                script.append(line.charAt(at));
            }
            at++;
        }
    }

    /** Here-documents, whose lines a shell reads as if in double quotes. */
    private void documents() {
        for (String ending : endings) {
            boolean over = false;
            while (at < line.length() && !over) {
                int end = line.indexOf('\n', at);
                int next = end < 0 ? line.length() : end + 1;
                over = line.substring(at, end < 0 ? line.length() : end).strip().equals(ending);
                while (at < next) {
                    if (line.charAt(at) == MARK) {
                        variable(In.DOUBLE);
                        at++;
                    } else {
                        take(1);
                    }
                }
            }
        }
        endings.clear();
    }

    private void variable(In where) {
        if (where == In.PLAIN || where == In.BACKQUOTES) {
            outside.add(values);
        }
        String variable = "${" + VARIABLE + ++values + "}";
        script.append(
                switch (where) {
                    case DOUBLE -> variable;
                    case SINGLE -> "'\"" + variable + "\"'";
                    default -> "\"" + variable + "\"";
                });
    }

    private void take(int letters) {
        int end = Math.min(line.length(), at + letters);
        script.append(line, at, end);
        at = end;
    }
}
