package org.gantrel.service.database;

import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;

/** A statement in another process. What it is given goes there when it is executed, and many rows of that together. */
final class FarStatement extends Far {

    private static final int MOST_TOGETHER = 500;
    private static final int MOST_LETTERS = 500_000;

    private static final Set<String> EXECUTE =
            Set.of("execute()", "executeUpdate()", "executeLargeUpdate()", "executeQuery()");

    private final TreeMap<Integer, Object[]> given = new TreeMap<>();
    private final List<Object> rows = new ArrayList<>();
    private int letters;

    FarStatement(Link link, Values.Ref ref) {
        super(link, ref);
    }

    @Override
    Object call(String what, Object[] arguments) throws SQLException {
        if (what.matches("set\\w+\\(int,.*") && arguments.length >= 2) {
            given.put((Integer) arguments[0], new Object[] {what, arguments});
            return null;
        }
        if (EXECUTE.contains(what)) {
            return ask(Session.WITH, what, values());
        }
        return switch (what) {
            case "addBatch()" -> {
                rows.add(values());
                letters += given.values().stream()
                        .mapToInt(each -> ((Object[]) each[1])[1] instanceof String text ? text.length() : 1)
                        .sum();
                if (rows.size() >= MOST_TOGETHER || letters > MOST_LETTERS) {
                    send(false);
                }
                yield null;
            }
            case "executeBatch()" -> send(true);
            case "cancel()" -> {
                // whoever stops a statement waits for nobody
                link().tell(id(), what);
                yield null;
            }
            case "clearParameters()" -> {
                given.clear();
                yield null;
            }
            default -> super.call(what, arguments);
        };
    }

    private Object[] values() {
        return given.values().toArray();
    }

    private Object send(boolean execute) throws SQLException {
        Object[] all = new Object[rows.size() + 1];
        all[0] = execute;
        for (int i = 0; i < rows.size(); i++) {
            all[i + 1] = rows.get(i);
        }
        rows.clear();
        letters = 0;
        return ask(Session.BATCH, all);
    }
}
