package org.gantrel.service.secret;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Path;
import org.gantrel.service.settings.Settings;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("A seal")
class SealTest {

    @TempDir
    private Path here;

    @TempDir
    private Path elsewhere;

    @Test
    @DisplayName("opens what it sealed, also after a restart, and never seals the same text alike")
    void opensWhatItSealed() throws IOException {
        var seal = new Seal(Settings.usual(here));
        String sealed = seal.seal("xyzzy");
        assertThat(sealed).doesNotContain("xyzzy").isNotEqualTo(seal.seal("xyzzy"));
        assertThat(new Seal(Settings.usual(here)).open(sealed)).isEqualTo("xyzzy");
        assertThat(seal.open(seal.seal(""))).isEmpty();
    }

    @Test
    @DisplayName("does not open what was sealed with another key, or what was changed")
    void doesNotOpenOthers() throws IOException {
        var seal = new Seal(Settings.usual(here));
        String sealed = seal.seal("xyzzy");
        var other = new Seal(Settings.usual(elsewhere));
        assertThatThrownBy(() -> other.open(sealed)).isInstanceOf(IllegalStateException.class);
        String changed = (sealed.charAt(20) == 'A'
                ? sealed.replace('A', 'B')
                : sealed.substring(0, 20) + "A" + sealed.substring(21));
        assertThatThrownBy(() -> seal.open(changed)).isInstanceOf(IllegalStateException.class);
    }

    @Test
    @DisplayName("takes a new key, and opens what the old one sealed until that is dropped")
    void takesANewKey() throws IOException {
        var seal = new Seal(Settings.usual(here));
        String old = seal.seal("xyzzy");
        seal.makeKey();
        String fresh = seal.seal(seal.open(old));
        assertThat(new Seal(Settings.usual(here)).open(old)).isEqualTo("xyzzy");
        seal.dropOldKeys();
        assertThat(new Seal(Settings.usual(here)).open(fresh)).isEqualTo("xyzzy");
        assertThatThrownBy(() -> seal.open(old)).isInstanceOf(IllegalStateException.class);
    }
}
