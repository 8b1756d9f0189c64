package org.gantrel.acceptance;

import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;

/** Tests that share one service, with the team revenue and a folder for programs. */
abstract class OneService {

    static Service service;
    static Http admin;
    static Work work;

    @BeforeAll
    static void open() {
        service = Service.fresh();
        admin = Work.settle(service);
        work = new Work();
    }

    @AfterAll
    static void shut() {
        service.close();
    }

    /** As after a power cut. */
    static void killAndStart() throws Exception {
        service.kill();
        startAgain();
    }

    static void startAgain() throws Exception {
        service.start();
        admin = service.admin();
    }

    /** Runs the command line as the administrator. */
    static Shell.Result gantrel(String... arguments) {
        return service.gantrel(admin.token(), arguments);
    }
}
