package org.gantrel.service.run;

import java.util.List;

/** Some runs are about to end in the transaction under way; who has to write of them may read ahead. */
public record RunsEnding(List<RunRecord> runs) {}
