package org.gantrel.core.credential;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.problem.Problem;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

@DisplayName("A kind of credential")
class CredentialKindTest {

    private static Map<String, String> facts(String text) {
        var facts = new LinkedHashMap<String, String>();
        Arrays.stream(text.split(" "))
                .filter(pair -> pair.contains("="))
                .forEach(pair -> facts.put(pair.split("=", 2)[0], pair.split("=", 2)[1]));
        return facts;
    }

    private static List<String> sentences(List<Problem> problems) {
        return problems.stream()
                .map(problem -> problem.field() + " " + problem.message())
                .toList();
    }

    @ParameterizedTest(name = "{0} takes {1}")
    @CsvSource({
        "account, account=batch",
        "http-basic, user=kiosk",
        "http-bearer, ''",
        "http-header, header=X-Key",
        "database, url=jdbc:h2:mem:x",
        "database, url=jdbc:h2:mem:x user=settle",
        "mail, host=mail.example.org port=25 from=a@example.org",
        "ssh, host=harbour.example.org user=night port=65535",
        "secret, ''"
    })
    void takesItsFacts(String kind, String facts) {
        assertThat(CredentialKind.of(kind).orElseThrow().complaints(facts(facts)))
                .isEmpty();
    }

    @ParameterizedTest(name = "{0} with {1}: {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "account     |                     | account is missing; a credential of the kind account needs it",
                "database    | url=jdbc:x usr=a    | usr a credential of the kind database has no such fact; it has url, user; did you mean 'user'?",
                "mail        | host=m port=0 from=a | port '0' is no port: 1 to 65535",
                "ssh         | host=h user=u host-key=SHA256:abc | host-key is no host key: its type and its base64, such as 'ssh-ed25519 AAAA...', as the host has it in /etc/ssh/ssh_host_ed25519_key.pub, would be right",
                "ssh         | host=h user=u port=65536 | port '65536' is no port: 1 to 65535",
                "http-bearer | user=a              | user a credential of the kind http-bearer has no such fact"
            })
    void refusesOthers(String kind, String facts, String sentence) {
        assertThat(sentences(CredentialKind.of(kind).orElseThrow().complaints(facts(facts == null ? "" : facts))))
                .contains(sentence);
    }

    @Test
    @DisplayName("wants its secret, and no other")
    void wantsItsSecret() {
        assertThat(sentences(CredentialKind.DATABASE.secretComplaints(Map.of())))
                .containsExactly("password is missing; a credential of the kind database keeps a password");
        assertThat(sentences(CredentialKind.DATABASE.secretComplaints(Map.of("token", "x"))))
                .containsExactly("token a credential of the kind database keeps no such secret; it keeps password");
        assertThat(sentences(CredentialKind.SECRET.secretComplaints(Map.of("value", ""))))
                .containsExactly("value 1 to 20000 characters would be right");
        assertThat(sentences(CredentialKind.SSH.secretComplaints(Map.of("passphrase", "x"))))
                .containsExactly("key is missing; a credential of the kind ssh keeps a key or a password");
        assertThat(sentences(CredentialKind.SSH.secretComplaints(Map.of("key", "AAAA"))))
                .containsExactly("key is no private key: the text of a file as ssh-keygen(1) makes it is wanted");
        assertThat(CredentialKind.ACCOUNT.secretComplaints(Map.of())).isEmpty();
        assertThat(CredentialKind.ACCOUNT.secretComplaints(Map.of("password", "x")))
                .hasSize(1);
    }

    @ParameterizedTest
    @EnumSource(CredentialKind.class)
    @DisplayName("has one word, by which it is found, and never prints a secret")
    void hasOneWord(CredentialKind kind) {
        assertThat(CredentialKind.of(kind.word())).contains(kind);
        var credential = new Credential(
                "one", kind, facts("account=a user=b host=h from=f header=x"), Map.of("password", "hush"));
        assertThat(credential.toString() + credential.identity())
                .doesNotContain("hush")
                .isNotBlank();
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource({
        "harbour.example.org, true",
        "harbour_2, true",
        "192.0.2.7, true",
        "2001:db8::7, true",
        "fe80::1%eth0, true",
        "[::1], false",
        "night@harbour, false",
        "a b, false",
        "*, false",
        "!harbour, false",
        "-oProxyCommand=x, false"
    })
    @DisplayName("for SSH has a host that is a name or an address")
    void hosts(String host, boolean fine) {
        List<Problem> problems = CredentialKind.SSH.complaints(Map.of("host", host, "user", "night"));
        assertThat(problems.isEmpty()).as(problems.toString()).isEqualTo(fine);
    }
}
