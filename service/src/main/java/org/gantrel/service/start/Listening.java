package org.gantrel.service.start;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.UnknownHostException;
import java.util.Optional;
import org.gantrel.service.settings.Settings;

/** Whether the service can listen where it is to, looked at before it does anything else. */
final class Listening {

    private Listening() {}

    /** What keeps it from that; nothing where it can. */
    static Optional<String> complaint(String address, int port) {
        try (var socket = new ServerSocket()) {
            socket.bind(new InetSocketAddress(InetAddress.getByName(address), port));
            return Optional.empty();
        } catch (UnknownHostException e) {
            return Optional.of("there is no address '" + address + "' to listen on; --address names one of this host");
        } catch (IOException e) {
            return Optional.of(said(String.valueOf(e.getMessage()), address, port));
        }
    }

    static String inUse(String address, int port) {
        return "port " + port + " on " + address + " is in use; stop what uses it, or choose another with --port";
    }

    /** In words; bind(2) has four reasons at most that it gives here. */
    private static String said(String reason, String address, int port) {
        if (reason.contains("in use")) {
            return inUse(address, port);
        }
        if (reason.contains("assign")) {
            return address + " is no address of this host; --address names one to listen on";
        }
        return reason.contains("Permission")
                ? "the host does not let this account listen on port " + port
                        + "; those from 1024 on are for all, and a proxy can stand before them"
                : "it cannot listen on " + Settings.place(address, port) + ": " + reason;
    }
}
