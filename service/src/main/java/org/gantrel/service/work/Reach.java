package org.gantrel.service.work;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import org.gantrel.service.work.ActionExecutor.Rehearsed;

/** Whether a host takes connections. */
final class Reach {

    private static final int PATIENCE_MILLIS = 2_000;

    private Reach() {}

    static Rehearsed of(String host, int port) {
        var address = new InetSocketAddress(host, port);
        if (address.isUnresolved()) {
            return Rehearsed.wrong("host", "there is no host '" + host + "'");
        }
        try (var socket = new Socket()) {
            socket.connect(address, PATIENCE_MILLIS);
            return Rehearsed.fine("host", host + ":" + port + " takes connections");
        } catch (IOException e) {
            return Rehearsed.wrong("host", "nothing answers at " + host + ":" + port);
        }
    }
}
