package org.gantrel.service.git;

import java.io.IOException;
import java.io.InterruptedIOException;
import java.net.ConnectException;
import java.net.NoRouteToHostException;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.URISyntaxException;
import java.net.UnknownHostException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import org.eclipse.jgit.errors.NoRemoteRepositoryException;
import org.eclipse.jgit.errors.NotSupportedException;
import org.eclipse.jgit.errors.TransportException;
import org.eclipse.jgit.lib.EmptyProgressMonitor;
import org.eclipse.jgit.lib.Ref;
import org.eclipse.jgit.lib.Repository;
import org.eclipse.jgit.transport.CredentialsProvider;
import org.eclipse.jgit.transport.FetchResult;
import org.eclipse.jgit.transport.RefSpec;
import org.eclipse.jgit.transport.RemoteSession;
import org.eclipse.jgit.transport.SshSessionFactory;
import org.eclipse.jgit.transport.SshTransport;
import org.eclipse.jgit.transport.TagOpt;
import org.eclipse.jgit.transport.Transport;
import org.eclipse.jgit.transport.TransportHttp;
import org.eclipse.jgit.transport.URIish;
import org.eclipse.jgit.util.FS;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.action.GitSource.Way;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.text.TlsTrouble;
import org.gantrel.core.text.Words;
import org.gantrel.service.remote.HostPrograms;
import org.gantrel.service.work.Destinations;
import org.gantrel.service.work.WorkFailed;

/** Brings the copy of a repository that others serve up to date, over HTTP or SSH (gitprotocol-v2(5)). */
final class RemoteCopy {

    private static final List<RefSpec> ALL =
            List.of(new RefSpec("+refs/heads/*:refs/heads/*"), new RefSpec("+refs/tags/*:refs/tags/*"));

    private final GitSource source;
    private final Optional<Credential> credential;
    private final HostPrograms programs;
    private final Destinations destinations;
    private final BooleanSupplier late;

    /** @param late whether there is no time left */
    RemoteCopy(
            GitSource source,
            Optional<Credential> credential,
            HostPrograms programs,
            Destinations destinations,
            BooleanSupplier late) {
        this.source = source;
        this.credential = credential;
        this.programs = programs;
        this.destinations = destinations;
        this.late = late;
    }

    /**
     * Fetches what is new.
     *
     * @return the commit that the repository offers to whoever asks for none
     */
    Optional<String> bring(Repository copy) throws IOException {
        Optional<Destinations.Way> web = source.way() == Way.WEB ? Optional.of(web()) : Optional.empty();
        if (web.isEmpty()) {
            refuse(wrongHost());
        }
        String address = web.map(way -> way.address().toString()).orElse(source.address());
        try (Transport transport = Transport.open(copy, new URIish(address))) {
            transport.setTimeout((int) Math.max(1, source.patience().toSeconds()));
            transport.setTagOpt(TagOpt.NO_TAGS);
            transport.setRemoveDeletedRefs(true);
            transport.setCheckFetchedObjects(true);
            if (transport instanceof TransportHttp http) {
                var headers =
                        new HashMap<>(credential.map(Credential::httpHeaders).orElse(Map.of()));
                web.flatMap(Destinations.Way::host).ifPresent(host -> headers.put("Host", host));
                http.setAdditionalHeaders(headers);
            } else if (transport instanceof SshTransport ssh) {
                ssh.setSshSessionFactory(new OverHost());
            }
            FetchResult result = transport.fetch(new Watch(), ALL);
            return Optional.ofNullable(result.getAdvertisedRef(GitSource.USUAL))
                    .map(Ref::getObjectId)
                    .map(id -> id.name());
        } catch (URISyntaxException | NotSupportedException e) {
            throw new SourceRefused("'" + source.address() + "' is no address of a repository");
        } catch (TransportException e) {
            throw said(e);
        }
    }

    private Destinations.Way web() throws SourceRefused {
        try {
            return destinations.way(URI.create(source.address()));
        } catch (WorkFailed e) {
            throw new SourceRefused(e.getMessage());
        }
    }

    private static void refuse(Optional<String> complaint) throws SourceRefused {
        if (complaint.isPresent()) {
            throw new SourceRefused(complaint.get());
        }
    }

    /** The credential holds the host's key, which only that host proves to have. */
    private Optional<String> wrongHost() {
        if (credential.isEmpty()) {
            return Optional.of("a repository reached by SSH needs a credential of the kind ssh");
        }
        GitSource.OverSsh parts = source.overSsh();
        Credential known = credential.get();
        String port = known.fact("port").isEmpty() ? "22" : known.fact("port");
        boolean fits = parts.host().equalsIgnoreCase(known.fact("host"))
                && (parts.port() == 0 || port.equals(String.valueOf(parts.port())))
                && (parts.user().isEmpty() || parts.user().equals(known.fact("user")));
        return fits
                ? Optional.empty()
                : Optional.of("the credential " + known.name() + " is for " + known.fact("user") + "@"
                        + known.fact("host") + (port.equals("22") ? "" : ":" + port) + ", not for " + source.address());
    }

    private IOException said(TransportException e) {
        String host = source.way() == Way.SSH
                ? source.overSsh().host()
                : URI.create(source.address()).getAuthority();
        var causes = new ArrayList<Throwable>();
        for (Throwable each = e; each != null && !causes.contains(each); each = each.getCause()) {
            causes.add(each);
        }
        Optional<String> tls = TlsTrouble.of(e);
        if (tls.isPresent()) {
            return new IOException(host + " " + tls.get(), e);
        }
        for (Throwable cause : causes) {
            if (late.getAsBoolean()
                    || cause instanceof SocketTimeoutException
                    || cause instanceof InterruptedIOException) {
                return new IOException(host + " did not answer within " + Words.duration(source.patience()), e);
            }
            if (cause instanceof UnknownHostException) {
                return new IOException("there is no host '" + host + "'", e);
            }
            if (cause instanceof ConnectException || cause instanceof NoRouteToHostException) {
                return new IOException("nothing answers at " + host, e);
            }
            if (cause instanceof NoRemoteRepositoryException) {
                return new IOException("there is no repository at " + source.address(), e);
            }
        }
        String last = String.valueOf(causes.get(causes.size() - 1).getMessage());
        if (last.contains("not authorized")
                || last.contains("not permitted")
                || last.contains("Authentication is required")) {
            return new IOException(
                    credential
                            .map(each -> host + " does not let " + each.name() + " read " + source.address())
                            .orElse(host + " lets nobody read " + source.address() + " without a credential"),
                    e);
        }
        if (last.contains("redirect") || last.contains("Redirect")) {
            return new IOException(source.address() + " has moved, and is not followed", e);
        }
        return new IOException(
                "the repository at " + source.address() + " cannot be read: "
                        + last.replace(source.address() + ": ", ""),
                e);
    }

    private final class Watch extends EmptyProgressMonitor {
        @Override
        public boolean isCancelled() {
            return late.getAsBoolean();
        }
    }

    /** Has the programs of the other side started by a host's own connection. */
    private final class OverHost extends SshSessionFactory {

        @Override
        public RemoteSession getSession(URIish address, CredentialsProvider asked, FS fs, int millis) {
            return new RemoteSession() {
                @Override
                public Process exec(String line, int seconds) throws IOException {
                    try {
                        return programs.start(credential.orElseThrow(), line);
                    } catch (InterruptedException e) {
                        Thread.currentThread().interrupt();
                        throw new InterruptedIOException();
                    }
                }

                @Override
                public void disconnect() {
                    // each program gives its connection back
                }
            };
        }

        @Override
        public String getType() {
            return "gantrel";
        }
    }

    /** How long the whole may take; what has not come by then does not come. */
    static BooleanSupplier until(Duration patience, BooleanSupplier stopped) {
        long end = System.nanoTime() + patience.toNanos();
        return () -> stopped.getAsBoolean() || System.nanoTime() - end > 0;
    }
}
