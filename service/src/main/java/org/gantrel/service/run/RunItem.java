package org.gantrel.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.SequenceGenerator;
import jakarta.persistence.Table;
import org.gantrel.core.run.Item;
import org.gantrel.core.run.RunState;

/** A named result inside a run. */
@Entity
@Table(name = "run_item")
final class RunItem {

    private static final int LONGEST_NAME = 300;
    private static final int LONGEST_SEEN = 1_000;

    @Id
    @GeneratedValue(strategy = GenerationType.SEQUENCE, generator = "run_item_id")
    @SequenceGenerator(name = "run_item_id", sequenceName = "run_item_id", allocationSize = 100)
    private Long id;

    private long runNumber;
    private String name;

    @Enumerated(EnumType.STRING)
    private RunState state;

    private String seen;
    private long millis;

    protected RunItem() {}

    RunItem(long runNumber, Item item) {
        this.runNumber = runNumber;
        this.name = cut(item.name(), LONGEST_NAME);
        this.state = item.state();
        this.seen = cut(item.seen(), LONGEST_SEEN);
        this.millis = item.took().toMillis();
    }

    Long id() {
        return id;
    }

    String name() {
        return name;
    }

    RunState state() {
        return state;
    }

    String seen() {
        return seen;
    }

    long millis() {
        return millis;
    }

    private static String cut(String text, int longest) {
        return text.length() <= longest ? text : text.substring(0, longest - 3) + "...";
    }

    long runNumber() {
        return runNumber;
    }
}
