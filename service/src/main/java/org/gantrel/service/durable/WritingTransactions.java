package org.gantrel.service.durable;

import org.gantrel.service.refusal.Refusal;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.boot.transaction.autoconfigure.TransactionManagerCustomizers;
import org.springframework.orm.jpa.JpaTransactionManager;
import org.springframework.stereotype.Component;
import org.springframework.transaction.TransactionDefinition;
import org.springframework.transaction.support.DefaultTransactionStatus;

/** Transactions whose changes are handed to the operating system when they are committed. */
@Component("transactionManager")
class WritingTransactions extends JpaTransactionManager {

    private static final long serialVersionUID = 1L;

    private final transient Durability durability;
    private final transient RoomToWrite room;

    /** @param customizers what is to hold for transaction managers of all kinds, such as who listens to them */
    WritingTransactions(
            Durability durability, RoomToWrite room, ObjectProvider<TransactionManagerCustomizers> customizers) {
        this.durability = durability;
        this.room = room;
        customizers.ifAvailable(all -> all.customize(this));
    }

    @Override
    protected void doBegin(Object transaction, TransactionDefinition definition) {
        if (!definition.isReadOnly()) {
            room.complaint().ifPresent(complaint -> {
                throw Refusal.noRoom(complaint);
            });
        }
        super.doBegin(transaction, definition);
    }

    @Override
    protected void doCommit(DefaultTransactionStatus status) {
        super.doCommit(status);
        if (!status.isReadOnly()) {
            durability.write();
        }
    }
}
