package org.gantrel.core.yaml;

import org.gantrel.core.text.Nesting;
import org.snakeyaml.engine.v2.events.Event;
import org.snakeyaml.engine.v2.exceptions.ParserException;
import org.snakeyaml.engine.v2.parser.Parser;

/** Refuses lists and mappings that are nested too deeply, before anything takes a step down for each of them. */
final class Shallow implements Parser {

    private final Parser parser;
    private int depth;

    Shallow(Parser parser) {
        this.parser = parser;
    }

    @Override
    public boolean checkEvent(Event.ID id) {
        return parser.checkEvent(id);
    }

    @Override
    public Event peekEvent() {
        return parser.peekEvent();
    }

    @Override
    public Event next() {
        Event event = parser.next();
        switch (event.getEventId()) {
            case SequenceStart, MappingStart -> depth++;
            case SequenceEnd, MappingEnd -> depth--;
            default -> {
                return event;
            }
        }
        if (depth > Nesting.DEEPEST) {
            throw new ParserException(
                    "lists and mappings are nested more than " + Nesting.DEEPEST + " deep", event.getStartMark());
        }
        return event;
    }

    @Override
    public boolean hasNext() {
        return parser.hasNext();
    }
}
