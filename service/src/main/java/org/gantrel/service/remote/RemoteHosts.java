package org.gantrel.service.remote;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.UnknownHostException;
import java.nio.channels.UnresolvedAddressException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.PublicKey;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicReference;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.auth.keyboard.UserAuthKeyboardInteractiveFactory;
import org.apache.sshd.client.auth.password.UserAuthPasswordFactory;
import org.apache.sshd.client.auth.pubkey.UserAuthPublicKeyFactory;
import org.apache.sshd.client.config.hosts.HostConfigEntryResolver;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.AttributeRepository;
import org.apache.sshd.common.AttributeRepository.AttributeKey;
import org.apache.sshd.common.NamedResource;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.config.keys.PublicKeyEntry;
import org.apache.sshd.common.kex.KexProposalOption;
import org.apache.sshd.common.keyprovider.KeyIdentityProvider;
import org.apache.sshd.common.session.Session;
import org.apache.sshd.common.session.SessionListener;
import org.apache.sshd.common.util.security.SecurityUtils;
import org.apache.sshd.core.CoreModuleProperties;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/** Connections to other hosts by SSH (RFC 4251 to 4254). A host is spoken to only if it has the key that is known of it. */
@Component
class RemoteHosts implements DisposableBean {

    private static final Duration PATIENCE = Duration.ofSeconds(10);

    /** Agreeing on keys and showing one's own is work: a host that answers, and is busy, has longer for it. */
    private static final Duration LOGIN_PATIENCE = Duration.ofSeconds(30);

    private static final Duration HEARTBEAT = Duration.ofSeconds(15);
    private static final AttributeKey<Meeting> MEETING = new AttributeKey<>();

    /** The first moments of a connection: which key is wanted, and which one the host showed. */
    private record Meeting(String known, AtomicReference<PublicKey> shown) {

        private boolean isWanted(PublicKey key) {
            shown.set(key);
            return entry(key).equals(known);
        }

        private static String entry(PublicKey key) {
            return PublicKeyEntry.toString(key);
        }

        /** A host has several keys; the one that is known must be the one that it proves to have. */
        private String algorithms(String usual) {
            return switch (known.split(" ")[0]) {
                case "" -> usual;
                case "ssh-rsa" -> "rsa-sha2-512,rsa-sha2-256";
                default -> known.split(" ")[0];
            };
        }

        private String complaint(String host) {
            String key = entry(shown.get()) + " (" + KeyUtils.getFingerPrint(shown.get()) + ")";
            return known.isEmpty()
                    ? "the key of " + host + " is not known yet; it shows " + key
                            + ". Compare that with what the host's own people say, and keep it as the fact host-key"
                    : "the key of " + host + " has changed: it shows " + key + ", and " + known
                            + " is known. Either the host was set up anew, or somebody stands in its place;"
                            + " nothing was sent to it";
        }
    }

    private final Map<Credential, RemoteHost> hosts = new HashMap<>();
    private SshClient client;

    /** A host, connected to when it is needed. Whoever takes it gives it back. */
    synchronized RemoteHost take(Credential credential) {
        return hosts.computeIfAbsent(credential, each -> new RemoteHost(each, this::connect))
                .taken();
    }

    synchronized void giveBack(Credential credential) {
        RemoteHost host = hosts.get(credential);
        if (host != null && host.givenBack()) {
            hosts.remove(credential);
            host.close();
        }
    }

    private ClientSession connect(Credential credential) throws IOException {
        String host = credential.fact("host");
        String[] words = credential.fact("host-key").split(" ");
        var meeting = new Meeting(words.length < 2 ? "" : words[0] + " " + words[1], new AtomicReference<>());
        if (!CredentialKind.isHost(host)) {
            // it was kept before that was looked at
            throw new IOException("'" + host + "' is no host: its name or its address");
        }
        int port = credential.fact("port").isEmpty() ? 22 : Integer.parseInt(credential.fact("port"));
        List<KeyPair> keys = credential.secret("key").isEmpty() ? List.of() : keys(credential);
        ClientSession session = null;
        try {
            session = client().connect(
                            credential.fact("user"),
                            host,
                            port,
                            AttributeRepository.ofKeyValuePair(MEETING, meeting),
                            null)
                    .verify(PATIENCE)
                    .getSession();
            keys.forEach(session::addPublicKeyIdentity);
            if (!credential.secret("password").isEmpty()) {
                session.addPasswordIdentity(credential.secret("password"));
            }
            session.auth().verify(LOGIN_PATIENCE);
            return session;
        } catch (IOException e) {
            boolean met = session != null;
            if (met) {
                session.close(true);
            }
            PublicKey shown = meeting.shown().get();
            if (shown != null && !meeting.isWanted(shown)) {
                throw new HostRefused(meeting.complaint(host));
            }
            throw new IOException(
                    met
                            ? host + " does not let " + credential.fact("user") + " in: " + e.getMessage()
                            : host + " cannot be reached at port " + port + ": " + why(e),
                    e);
        }
    }

    /** What is at the bottom of it: the library tells of its own objects first. */
    private static String why(IOException trouble) {
        Throwable bottom = trouble;
        while (bottom.getCause() != null) {
            bottom = bottom.getCause();
        }
        if (bottom instanceof UnresolvedAddressException || bottom instanceof UnknownHostException) {
            return "no address is known for that name";
        }
        return bottom instanceof TimeoutException || bottom.getMessage() == null
                ? "it does not answer within " + PATIENCE.toSeconds() + " s"
                : bottom.getMessage().replaceFirst("^Default\\w+Future\\[.*]: ", "");
    }

    private static List<KeyPair> keys(Credential credential) throws IOException {
        var found = new ArrayList<KeyPair>();
        try {
            Iterable<KeyPair> pairs = SecurityUtils.loadKeyPairIdentities(
                    null,
                    NamedResource.ofName(credential.name()),
                    new ByteArrayInputStream(credential.secret("key").getBytes(StandardCharsets.UTF_8)),
                    (session, resource, attempt) -> credential.secret("passphrase"));
            if (pairs != null) {
                pairs.forEach(found::add);
            }
        } catch (IOException | GeneralSecurityException | IllegalArgumentException e) {
            throw new IOException(
                    "the key of the credential " + credential.name() + " cannot be opened; is the passphrase right? ("
                            + e.getMessage() + ")",
                    e);
        }
        if (found.isEmpty()) {
            throw new IOException("the key of the credential " + credential.name() + " cannot be read");
        }
        return found;
    }

    private synchronized SshClient client() {
        if (client == null) {
            client = SshClient.setUpDefaultClient();
            // only what the credential says counts, nothing of the service's own account
            client.setHostConfigEntryResolver(HostConfigEntryResolver.EMPTY);
            client.setKeyIdentityProvider(KeyIdentityProvider.EMPTY_KEYS_PROVIDER);
            client.setUserAuthFactories(List.of(
                    UserAuthPublicKeyFactory.INSTANCE,
                    UserAuthPasswordFactory.INSTANCE,
                    UserAuthKeyboardInteractiveFactory.INSTANCE));
            client.setServerKeyVerifier(
                    (session, address, key) -> meeting(session).isWanted(key));
            client.addSessionListener(new SessionListener() {
                @Override
                public void sessionNegotiationOptionsCreated(Session session, Map<KexProposalOption, String> proposal) {
                    proposal.computeIfPresent(
                            KexProposalOption.SERVERKEYS,
                            (option, usual) -> meeting((ClientSession) session).algorithms(usual));
                }
            });
            CoreModuleProperties.HEARTBEAT_INTERVAL.set(client, HEARTBEAT);
            CoreModuleProperties.HEARTBEAT_NO_REPLY_MAX.set(client, 2);
            client.start();
        }
        return client;
    }

    private static Meeting meeting(ClientSession session) {
        return session.getConnectionContext().getAttribute(MEETING);
    }

    @Override
    public synchronized void destroy() {
        hosts.values().forEach(RemoteHost::close);
        if (client != null) {
            client.stop();
        }
    }
}
