package org.gantrel.client.job;

import org.gantrel.client.Revisions;
import picocli.CommandLine.Command;

/** The revisions of jobs. */
final class JobRevisions {

    private static final String PATH = "/api/v1/jobs/";

    private JobRevisions() {}

    @Command(
            name = "revisions",
            description = "Lists who changed a job and when, newest first; shows or compares revisions.",
            footer = {
                "",
                "Examples:",
                "  gantrel job revisions settle-tickets --show 3",
                "  gantrel job revisions settle-tickets --compare 3..5"
            })
    static final class Listing extends Revisions.Listing {
        @Override
        protected String path() {
            return PATH;
        }
    }

    @Command(
            name = "put-back",
            description = "Makes an earlier revision of a job the latest again.",
            footer = {"", "Example:", "  gantrel job put-back settle-tickets 3"})
    static final class PutBack extends Revisions.PutBack {
        @Override
        protected String path() {
            return PATH;
        }
    }
}
