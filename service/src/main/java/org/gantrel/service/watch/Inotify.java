package org.gantrel.service.watch;

import java.io.IOException;
import java.nio.file.ClosedWatchServiceException;
import java.nio.file.FileStore;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardWatchEventKinds;
import java.nio.file.WatchEvent;
import java.nio.file.WatchKey;
import java.nio.file.WatchService;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Has the system tell of changes in folders. What it tells is a hint where to look, nothing more: it is looked at with the rights of
 * the job that waits, and now and then as a whole, since hints may be lost.
 */
final class Inotify implements AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(Inotify.class);

    /** File systems that do not tell of what other hosts do. */
    private static final List<String> SILENT = List.of("nfs", "cifs", "smb", "fuse", "9p", "afs", "ceph", "gluster");

    /** Somebody who wants to hear of a folder: names of files; null where hints were lost. */
    interface Ear extends Consumer<Set<String>> {}

    private final WatchService system;
    private final Map<WatchKey, List<Ear>> ears = new ConcurrentHashMap<>();
    private final Map<Path, WatchKey> keys = new ConcurrentHashMap<>();

    Inotify() throws IOException {
        system = FileSystems.getDefault().newWatchService();
        var thread = new Thread(this::run, "watch-hints");
        thread.setDaemon(true);
        thread.start();
    }

    /** Begins to listen; says whether the system tells of this folder's changes. */
    synchronized boolean listen(String folder, Ear ear) {
        try {
            Path real = Path.of(folder).toRealPath();
            FileStore store = Files.getFileStore(real);
            if (SILENT.stream().anyMatch(store.type()::startsWith)) {
                return false;
            }
            WatchKey key = real.register(
                    system,
                    StandardWatchEventKinds.ENTRY_CREATE,
                    StandardWatchEventKinds.ENTRY_MODIFY,
                    StandardWatchEventKinds.ENTRY_DELETE);
            keys.put(real, key);
            List<Ear> to = ears.computeIfAbsent(key, each -> new CopyOnWriteArrayList<>());
            if (!to.contains(ear)) {
                to.add(ear);
            }
            return true;
        } catch (IOException | UnsupportedOperationException e) {
            LOG.debug("{} is looked at now and then: {}", folder, e.toString());
            return false;
        }
    }

    /** Ends to listen. */
    synchronized void leave(Ear ear) {
        ears.values().forEach(list -> list.remove(ear));
        ears.entrySet().removeIf(each -> {
            boolean empty = each.getValue().isEmpty();
            if (empty) {
                each.getKey().cancel();
            }
            return empty;
        });
        keys.values().removeIf(key -> !ears.containsKey(key));
    }

    private void run() {
        while (true) {
            try {
                WatchKey key = system.take();
                Set<String> names = new HashSet<>();
                boolean lost = false;
                for (WatchEvent<?> event : key.pollEvents()) {
                    lost |= event.kind() == StandardWatchEventKinds.OVERFLOW;
                    if (event.context() instanceof Path name) {
                        names.add(name.toString());
                    }
                }
                // a folder that is gone tells nothing more; it is looked at as a whole until it is there again
                boolean gone = !key.reset();
                Set<String> told = lost || gone ? null : names;
                List<Ear> to = ears.getOrDefault(key, List.of());
                if (gone) {
                    ears.remove(key);
                }
                to.forEach(ear -> ear.accept(told));
            } catch (RuntimeException e) {
                // whoever missed a hint looks at everything now and then
                if (e instanceof ClosedWatchServiceException) {
                    return;
                }
                LOG.warn("a hint was lost", e);
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    @Override
    public void close() throws IOException {
        system.close();
    }
}
