package org.gantrel.service.run;

import java.util.List;

/** Some runs are about to be moved in the transaction under way; who writes with them may read ahead. */
public record RunsRead(List<Run> runs) {}
