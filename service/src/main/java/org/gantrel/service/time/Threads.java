package org.gantrel.service.time;

import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ThreadFactory;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;

/** Threads that do not keep the service from ending, and that have names. */
public final class Threads {

    private Threads() {}

    /** Up to so many threads, which go when there is nothing for them to do; what is more waits. */
    public static ExecutorService pool(String name, int most) {
        var pool = new ThreadPoolExecutor(most, most, 30, TimeUnit.SECONDS, new LinkedBlockingQueue<>(), named(name));
        pool.allowCoreThreadTimeOut(true);
        return pool;
    }

    /** One thread for what is to be done later. */
    public static ScheduledExecutorService timer(String name) {
        return Executors.newSingleThreadScheduledExecutor(named(name));
    }

    private static ThreadFactory named(String name) {
        var count = new AtomicInteger();
        return task -> {
            var thread = new Thread(task, name + "-" + count.incrementAndGet());
            thread.setDaemon(true);
            return thread;
        };
    }
}
