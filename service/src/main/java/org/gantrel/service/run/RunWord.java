package org.gantrel.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;

/** A word that a run is found by. */
@Entity
@Table(name = "run_word")
@IdClass(RunWord.Key.class)
final class RunWord {

    /** A run has each word once. */
    record Key(Long runNumber, String word) implements Serializable {}

    @Id
    private Long runNumber;

    @Id
    private String word;

    protected RunWord() {}

    RunWord(long runNumber, String word) {
        this.runNumber = runNumber;
        this.word = word;
    }
}
