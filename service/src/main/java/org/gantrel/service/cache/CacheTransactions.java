package org.gantrel.service.cache;

import org.springframework.stereotype.Component;
import org.springframework.transaction.TransactionExecution;
import org.springframework.transaction.TransactionExecutionListener;

/** Tells the caches when transactions begin; the transaction manager finds it by its type. */
@Component
class CacheTransactions implements TransactionExecutionListener {

    @Override
    public void afterBegin(TransactionExecution transaction, Throwable failure) {
        if (failure == null) {
            CommittedCache.transactionBegins();
        }
    }
}
