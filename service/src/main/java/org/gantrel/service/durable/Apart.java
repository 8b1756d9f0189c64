package org.gantrel.service.durable;

import com.zaxxer.hikari.HikariDataSource;
import java.lang.reflect.InvocationHandler;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.Lock;
import java.util.concurrent.locks.ReentrantReadWriteLock;
import javax.sql.DataSource;
import org.springframework.beans.factory.config.BeanPostProcessor;
import org.springframework.jdbc.datasource.DelegatingDataSource;
import org.springframework.jdbc.datasource.DriverManagerDataSource;
import org.springframework.stereotype.Component;

/**
 * Keeps apart changes of the database and the moments at which it writes down what it holds. H2 does that map by map
 * (MVStore.collectChangedMapRoots, H2 2.4): what is changed just then would be in some maps and not in others, and what would
 * undo it in none. After a kill that is a row which nobody can see, and nobody can write again.
 */
@Component
class Apart implements BeanPostProcessor {

    /** For a change that takes longer, such as a large deletion, nobody waits: all others would have to as well. */
    private static final Duration PATIENCE = Duration.ofMillis(50);

    private final ReentrantReadWriteLock lock = new ReentrantReadWriteLock();

    @Override
    public Object postProcessBeforeInitialization(Object bean, String name) {
        if (bean instanceof HikariDataSource pool) {
            pool.setDataSource(
                    around(new DriverManagerDataSource(pool.getJdbcUrl(), pool.getUsername(), pool.getPassword())));
        }
        return bean;
    }

    /** The same database, whose changes wait while it is written down. */
    DataSource around(DataSource database) {
        return new DelegatingDataSource(database) {
            @Override
            public Connection getConnection() throws SQLException {
                return opened(super.getConnection());
            }

            @Override
            public Connection getConnection(String person, String password) throws SQLException {
                return opened(super.getConnection(person, password));
            }
        };
    }

    /** Writes down what the database holds, while nobody changes it. */
    void write(Runnable writing) {
        boolean alone = false;
        try {
            alone = lock.writeLock().tryLock(PATIENCE.toMillis(), TimeUnit.MILLISECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        try {
            writing.run();
        } finally {
            if (alone) {
                lock.writeLock().unlock();
            }
        }
    }

    private Connection opened(Connection real) throws SQLException {
        // it was set anew by the address of the connection
        Durability.store(real).setAutoCommitDelay(Durability.BY_CALL);
        return connection(real);
    }

    private Connection connection(Connection real) {
        return proxy(Connection.class, (proxy, method, arguments) -> {
            Object answer = "commit".equals(method.getName()) || "rollback".equals(method.getName())
                    ? change(() -> method.invoke(real, arguments))
                    : called(() -> method.invoke(real, arguments));
            if (answer instanceof PreparedStatement prepared) {
                return onlyReads((String) arguments[0]) ? prepared : statement(PreparedStatement.class, prepared);
            }
            return answer instanceof Statement other ? statement(Statement.class, other) : answer;
        });
    }

    private <S extends Statement> S statement(Class<S> type, S real) {
        return proxy(type, (proxy, method, arguments) -> {
            boolean changes = method.getName().startsWith("execute")
                    && !(arguments != null && arguments.length > 0 && onlyReads((String) arguments[0]));
            return changes
                    ? change(() -> method.invoke(real, arguments))
                    : called(() -> method.invoke(real, arguments));
        });
    }

    /** A backup takes as long as the database is large, and changes nothing. */
    private static boolean onlyReads(String sql) {
        String text = sql.stripLeading();
        return text.regionMatches(true, 0, "select", 0, 6) && !text.contains("for update")
                || text.regionMatches(true, 0, "backup", 0, 6);
    }

    private static <T> T proxy(Class<T> type, InvocationHandler handler) {
        return type.cast(Proxy.newProxyInstance(Apart.class.getClassLoader(), new Class<?>[] {type}, handler));
    }

    private interface Call {
        Object make() throws ReflectiveOperationException;
    }

    private Object change(Call call) throws Throwable {
        Lock mine = lock.readLock();
        mine.lock();
        try {
            return called(call);
        } finally {
            mine.unlock();
        }
    }

    private static Object called(Call call) throws Throwable {
        try {
            return call.make();
        } catch (InvocationTargetException e) {
            throw e.getCause();
        }
    }
}
