package org.gantrel.service.git;

import java.util.concurrent.TimeUnit;
import org.eclipse.jgit.lib.Config;
import org.eclipse.jgit.lib.ConfigConstants;
import org.eclipse.jgit.storage.file.FileBasedConfig;
import org.eclipse.jgit.util.FS;
import org.eclipse.jgit.util.SystemReader;

/**
 * The settings that count for repositories: those of their copies alone. What the service's account, or its host, has set for
 * git(1) by other ways could name programs, other addresses and credentials.
 */
final class OwnSettings extends SystemReader.Delegate {

    private OwnSettings() {
        super(SystemReader.getInstance());
    }

    /** Makes them count, for the whole process. */
    static synchronized void use() {
        if (!(SystemReader.getInstance() instanceof OwnSettings)) {
            SystemReader.setInstance(new OwnSettings());
        }
    }

    @Override
    public String getenv(String variable) {
        return variable.startsWith("GIT_") ? null : super.getenv(variable);
    }

    @Override
    public FileBasedConfig openUserConfig(Config parent, FS fs) {
        return new Nothing(parent, fs);
    }

    @Override
    public FileBasedConfig openSystemConfig(Config parent, FS fs) {
        return new Nothing(parent, fs);
    }

    @Override
    public FileBasedConfig openJGitConfig(Config parent, FS fs) {
        return new Nothing(parent, fs);
    }

    private static final class Nothing extends FileBasedConfig {

        /** No clock of a kernel ticks more slowly. */
        private static final long FINE_MILLIS = 10;

        Nothing(Config parent, FS fs) {
            super(parent, null, fs);
        }

        /**
         * How fine the times of files are is said, not measured, which would take seconds in each process. A repository is
         * opened anew for whatever is asked, so nothing depends on it but how long a file of references is looked at twice.
         */
        @Override
        public long getTimeUnit(String section, String subsection, String name, long usual, TimeUnit unit) {
            return section.equals(ConfigConstants.CONFIG_FILESYSTEM_SECTION)
                    ? unit.convert(FINE_MILLIS, TimeUnit.MILLISECONDS)
                    : super.getTimeUnit(section, subsection, name, usual, unit);
        }

        @Override
        public void load() {
            // there is no file
        }

        @Override
        public void save() {
            // and none is made
        }

        @Override
        public boolean isOutdated() {
            return false;
        }
    }
}
