package org.gantrel.service.cache;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

@DisplayName("A cache of what is committed")
class CommittedCacheTest {

    private final CommittedCache<String, Integer> cache = new CommittedCache<>(10);

    @BeforeEach
    void begin() {
        TransactionSynchronizationManager.initSynchronization();
        TransactionSynchronizationManager.setActualTransactionActive(true);
        CommittedCache.transactionBegins();
    }

    @AfterEach
    void end() {
        if (TransactionSynchronizationManager.isSynchronizationActive()) {
            complete();
        }
    }

    private static void complete() {
        TransactionSynchronizationManager.getSynchronizations()
                .forEach(each -> each.afterCompletion(TransactionSynchronization.STATUS_COMMITTED));
        TransactionSynchronizationManager.clear();
    }

    private static void inAnotherThread(Runnable work) throws InterruptedException {
        var thread = new Thread(work);
        thread.start();
        thread.join();
    }

    @Test
    @DisplayName("keeps what a transaction reads of that which nobody has changed")
    void keeps() {
        assertThat(cache.get("revision", key -> 1)).isEqualTo(1);
        complete();
        assertThat(cache.get("revision", key -> 2)).isEqualTo(1);
    }

    @Test
    @DisplayName(
            "does not keep what a transaction reads that began before the latest change: it may have read it before")
    void doesNotKeepTheOld() throws InterruptedException {
        inAnotherThread(() -> cache.changed("revision"));
        assertThat(cache.get("revision", key -> 1)).isEqualTo(1);
        complete();
        assertThat(cache.get("revision", key -> 2)).isEqualTo(2);
    }

    @Test
    @DisplayName("reads anew in the transaction that changes something, and keeps nothing of it before its end")
    void readsAnew() throws InterruptedException {
        cache.changed("revision");
        assertThat(cache.get("revision", key -> 3)).isEqualTo(3);
        inAnotherThread(() -> assertThat(cache.get("revision", key -> 2)).isEqualTo(2));
        complete();
        assertThat(cache.get("revision", key -> 4)).isEqualTo(4);
    }

    @Test
    @DisplayName(
            "keeps nothing that others read of what is being changed: once the change is to be seen, nothing older is here")
    void keepsNothingWhileItIsChanged() throws InterruptedException {
        cache.changed("revision");
        inAnotherThread(() -> {
            assertThat(cache.get("revision", key -> 1)).isEqualTo(1);
            assertThat(cache.get("revision", key -> 2))
                    .as("as after the commit")
                    .isEqualTo(2);
            assertThat(cache.get("other", key -> 1)).isEqualTo(1);
            assertThat(cache.get("other", key -> 2)).isEqualTo(1);
        });
        complete();
        assertThat(cache.get("revision", key -> 3)).isEqualTo(3);
        assertThat(cache.get("revision", key -> 4)).as("kept again").isEqualTo(3);
    }

    @Test
    @DisplayName("keeps nothing at all while all may be changed, and keeps again when the last of several is through")
    void keepsNothingWhileAllIsChanged() throws InterruptedException {
        cache.changedAll();
        cache.changedAll();
        inAnotherThread(() -> {
            begin();
            cache.changedAll();
            complete();
            assertThat(cache.get("revision", key -> 1)).isEqualTo(1);
            assertThat(cache.get("revision", key -> 2)).isEqualTo(2);
        });
        complete();
        assertThat(cache.get("revision", key -> 3)).isEqualTo(3);
        assertThat(cache.get("revision", key -> 4)).isEqualTo(3);
    }

    @Test
    @DisplayName("reads what a transaction changes once for it, until it changes that again, and not for one within it")
    void readsOnceForItself() {
        cache.changedAll();
        assertThat(cache.get("revision", key -> 1)).isEqualTo(1);
        assertThat(cache.get("revision", key -> 2)).isEqualTo(1);
        cache.changed("revision");
        assertThat(cache.get("revision", key -> 3)).isEqualTo(3);
        List<TransactionSynchronization> outer = TransactionSynchronizationManager.getSynchronizations();
        outer.forEach(TransactionSynchronization::suspend);
        assertThat(cache.get("revision", key -> 0)).as("as it is committed").isZero();
        outer.forEach(TransactionSynchronization::resume);
        assertThat(cache.get("revision", key -> 4)).isEqualTo(3);
    }
}
