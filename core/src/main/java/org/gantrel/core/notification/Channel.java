package org.gantrel.core.notification;

import java.util.List;
import java.util.Map;

/**
 * A way by which messages reach another system.
 *
 * @param team whose rules may use it, beside those of {@code teams}
 * @param call the address that is called, over HTTP; empty for one that runs a command
 * @param command a program of this host that is given the message on its standard input, with its arguments; empty for one that calls
 * @param form {@link Form#CLOUD_EVENT}, or a body of its own from a template
 * @param headers more headers
 * @param actsAs the credential whose header or password goes along, or whose account runs the command; empty for none
 * @param signedWith the credential whose secret the body is signed with; empty for none
 */
public record Channel(
        String name,
        String team,
        String about,
        List<String> teams,
        String call,
        List<String> command,
        Form form,
        String body,
        Map<String, String> headers,
        String actsAs,
        String signedWith)
        implements Telling {

    /** What is sent. */
    public enum Form {
        CLOUD_EVENT,
        OWN
    }

    public Channel {
        teams = List.copyOf(teams);
        command = List.copyOf(command);
        headers = Map.copyOf(headers);
    }

    /** Where messages go, in words. */
    public String place() {
        return command.isEmpty() ? call : command.get(0);
    }

    public boolean isFor(String other) {
        return team.equals(other) || teams.contains(other);
    }
}
