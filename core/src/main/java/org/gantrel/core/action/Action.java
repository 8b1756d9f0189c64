package org.gantrel.core.action;

import java.util.List;
import org.gantrel.core.expression.Bindings;

/**
 * What a task does. A record of texts as they stand in the definition; {@link #fill} gives the same with every
 * expression worked out.
 */
public sealed interface Action permits Command, Request, Sql, Checks, FileWork, MailMessage, Outside {

    /** The word for this kind of work. */
    String kind();

    /** The same work with every expression worked out. */
    Action fill(Bindings known);

    /** Names of the credentials that it uses beside the one that the task acts as. */
    default List<String> credentials() {
        return List.of();
    }
}
