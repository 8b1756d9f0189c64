package org.gantrel.service.work;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.gantrel.core.action.Action;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.run.Ending;

/** Does one kind of work. */
interface ActionExecutor<A extends Action> {

    /** The kind of work that it does. */
    Class<A> type();

    /**
     * Does it.
     *
     * @throws Exception for anything that keeps it from a good end; its message is for people
     */
    Ending perform(A action, Execution work) throws Exception;

    /** What it would do, one thing a line, and what can be found out without doing it. */
    List<Rehearsed> rehearse(A action, Rehearsing around);

    /**
     * What a rehearsal may use.
     *
     * @param actor whom the job acts as
     * @param credentials opens another credential of the job by its name
     * @param hands gives what looks at files, with the rights of whom the job acts as
     * @param sources takes files from repositories
     */
    record Rehearsing(
            Optional<Credential> actor,
            Function<String, Credential> credentials,
            Execution.HandsSource hands,
            Execution.SourceOpener sources) {

        /** A credential by its name, or the one it acts as where there is no name. */
        Optional<Credential> credential(String name) {
            return name.isEmpty() ? actor : Optional.of(credentials.apply(name));
        }
    }

    /** One thing that a rehearsal found. */
    record Rehearsed(Kind kind, String what, String text) {
        enum Kind {
            /** What would be done. */
            DOES,
            /** A check that went well. */
            FINE,
            /** What would go wrong. */
            WRONG,
            /** What was not tried, and why. */
            UNTRIED
        }

        static Rehearsed untried(String what, String why) {
            return new Rehearsed(Kind.UNTRIED, what, why);
        }

        static Rehearsed does(String what, String text) {
            return new Rehearsed(Kind.DOES, what, text);
        }

        static Rehearsed fine(String what, String text) {
            return new Rehearsed(Kind.FINE, what, text);
        }

        static Rehearsed wrong(String what, String text) {
            return new Rehearsed(Kind.WRONG, what, text);
        }
    }
}
