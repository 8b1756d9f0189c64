package org.gantrel.service.remote;

import java.io.ByteArrayOutputStream;

/** Holds what a host says, up to a bound: a host may say anything for as long as it is listened to. */
final class Held extends ByteArrayOutputStream {

    private final int most;
    private final Runnable full;
    private boolean over;

    /**
     * @param most how many bytes
     * @param full run each time that more comes, none of which is held
     */
    Held(int most, Runnable full) {
        this.most = most;
        this.full = full;
    }

    @Override
    public synchronized void write(int one) {
        write(new byte[] {(byte) one}, 0, 1);
    }

    @Override
    public synchronized void write(byte[] bytes, int from, int length) {
        int room = Math.min(length, most - count);
        super.write(bytes, from, room);
        if (room < length) {
            over = true;
            full.run();
        }
    }

    /** Whether there was more. */
    synchronized boolean isOver() {
        return over;
    }
}
