package org.gantrel.service.watch;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.trigger.FolderCourse.Seen;

/**
 * What a look saw.
 *
 * @param looked what is there by path, and nothing for what is not
 * @param all all paths that are there, where everything was looked at
 * @param values what a row holds, by its key; nothing for files
 */
record Sight(Map<String, Optional<Seen>> looked, Set<String> all, Map<String, Map<String, String>> values) {}
