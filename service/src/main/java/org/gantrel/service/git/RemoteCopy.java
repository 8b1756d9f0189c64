package org.gantrel.service.git;

import java.io.IOException;
import java.io.InterruptedIOException;
import java.net.ConnectException;
import java.net.NoRouteToHostException;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.URISyntaxException;
import java.net.UnknownHostException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.eclipse.jgit.errors.NoRemoteRepositoryException;
import org.eclipse.jgit.errors.NotSupportedException;
import org.eclipse.jgit.errors.TransportException;
import org.eclipse.jgit.lib.NullProgressMonitor;
import org.eclipse.jgit.lib.Ref;
import org.eclipse.jgit.lib.Repository;
import org.eclipse.jgit.transport.FetchResult;
import org.eclipse.jgit.transport.RefSpec;
import org.eclipse.jgit.transport.SshSessionFactory;
import org.eclipse.jgit.transport.SshTransport;
import org.eclipse.jgit.transport.TagOpt;
import org.eclipse.jgit.transport.Transport;
import org.eclipse.jgit.transport.TransportHttp;
import org.eclipse.jgit.transport.URIish;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.action.GitSource.Way;
import org.gantrel.core.text.TlsTrouble;
import org.gantrel.core.text.Words;

/** Brings the copy of a repository that others serve up to date, over HTTP or SSH (gitprotocol-v2(5)). */
final class RemoteCopy {

    private static final List<RefSpec> ALL =
            List.of(new RefSpec("+refs/heads/*:refs/heads/*"), new RefSpec("+refs/tags/*:refs/tags/*"));

    private final GitSource source;
    private final String address;
    private final Map<String, String> headers;
    private final SshSessionFactory hosts;

    /**
     * @param address where it is asked for
     * @param headers of each request over HTTP
     * @param hosts start programs there
     */
    RemoteCopy(GitSource source, String address, Map<String, String> headers, SshSessionFactory hosts) {
        this.source = source;
        this.address = address;
        this.headers = headers;
        this.hosts = hosts;
    }

    /**
     * Fetches what is new.
     *
     * @return the commit that the repository offers to whoever asks for none
     */
    Optional<String> bring(Repository copy) throws IOException {
        try (Transport transport = Transport.open(copy, new URIish(address))) {
            transport.setTimeout((int) Math.max(1, source.patience().toSeconds()));
            transport.setTagOpt(TagOpt.NO_TAGS);
            transport.setRemoveDeletedRefs(true);
            transport.setCheckFetchedObjects(true);
            if (transport instanceof TransportHttp http) {
                http.setAdditionalHeaders(headers);
            } else if (transport instanceof SshTransport ssh) {
                ssh.setSshSessionFactory(hosts);
            }
            FetchResult result = transport.fetch(NullProgressMonitor.INSTANCE, ALL);
            return Optional.ofNullable(result.getAdvertisedRef(GitSource.USUAL))
                    .map(Ref::getObjectId)
                    .map(id -> id.name());
        } catch (URISyntaxException | NotSupportedException e) {
            throw new SourceRefused("'" + source.address() + "' is no address of a repository");
        } catch (TransportException e) {
            throw said(e);
        }
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
            if (cause instanceof SocketTimeoutException || cause instanceof InterruptedIOException) {
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
                    source.credential().isEmpty()
                            ? host + " lets nobody read " + source.address() + " without a credential"
                            : host + " does not let " + source.credential() + " read " + source.address(),
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
}
