package org.gantrel.core.yaml;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.text.Nesting;
import org.snakeyaml.engine.v2.common.Anchor;
import org.snakeyaml.engine.v2.events.AliasEvent;
import org.snakeyaml.engine.v2.events.CollectionEndEvent;
import org.snakeyaml.engine.v2.events.CollectionStartEvent;
import org.snakeyaml.engine.v2.events.Event;
import org.snakeyaml.engine.v2.events.ScalarEvent;
import org.snakeyaml.engine.v2.exceptions.ParserException;
import org.snakeyaml.engine.v2.parser.Parser;

/**
 * Refuses lists and mappings that are nested too deeply, before anything takes a step down for each of them, and aliases that
 * stand within what they stand for, or for so much that a short text would be a very large one.
 */
final class Shallow implements Parser {

    /** For so many parts the aliases of a text may stand together. */
    private static final long MOST_BY_ALIAS = 50_000;

    /** So many letters of a text count as one part more. */
    private static final int LETTERS = 20;

    /** A list or mapping that has not ended yet. */
    private static final class Open {
        private final Optional<Anchor> anchor;
        private long parts = 1;

        private Open(Optional<Anchor> anchor) {
            this.anchor = anchor;
        }
    }

    private final Parser parser;
    private final Deque<Open> open = new ArrayDeque<>();
    /** How many parts each anchor stands for. */
    private final Map<Anchor, Long> parts = new HashMap<>();

    private long byAlias;

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
        if (event instanceof CollectionStartEvent start) {
            open.push(new Open(start.getAnchor()));
            if (open.size() > Nesting.DEEPEST) {
                throw new ParserException(
                        "lists and mappings are nested more than " + Nesting.DEEPEST + " deep", event.getStartMark());
            }
        } else if (event instanceof CollectionEndEvent) {
            Open ended = open.pop();
            ended.anchor.ifPresent(anchor -> parts.put(anchor, ended.parts));
            count(ended.parts);
        } else if (event instanceof AliasEvent alias) {
            expand(alias);
        } else if (event instanceof ScalarEvent scalar) {
            long size = 1 + scalar.getValue().length() / LETTERS;
            scalar.getAnchor().ifPresent(anchor -> parts.put(anchor, size));
            count(size);
        }
        return event;
    }

    private void count(long more) {
        if (!open.isEmpty()) {
            open.peek().parts += more;
        }
    }

    private void expand(AliasEvent alias) {
        Anchor anchor = alias.getAlias();
        if (open.stream().anyMatch(each -> each.anchor.filter(anchor::equals).isPresent())) {
            throw new ParserException("the alias stands within what it stands for", alias.getStartMark());
        }
        long stood = parts.getOrDefault(anchor, 1L);
        byAlias += stood;
        if (byAlias > MOST_BY_ALIAS) {
            throw new ParserException(
                    "the aliases stand for more than " + MOST_BY_ALIAS + " parts together", alias.getStartMark());
        }
        count(stood);
    }

    @Override
    public boolean hasNext() {
        return parser.hasNext();
    }
}
