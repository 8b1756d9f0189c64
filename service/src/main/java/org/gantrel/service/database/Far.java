package org.gantrel.service.database;

import java.lang.reflect.InvocationHandler;
import java.lang.reflect.Method;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** An object of a driver that is in another process, seen as one of here: each call of it goes there. */
class Far implements InvocationHandler {

    private final Link link;
    private final Values.Ref ref;
    private final boolean isLink;
    private final Map<List<Object>, Object> known;

    Far(Link link, Values.Ref ref) {
        this.link = link;
        this.ref = ref;
        this.isLink = ref.face().equals(Connection.class.getSimpleName());
        // what the columns of rows are does not change, and it is asked for again and again
        this.known = ref.face().equals(ResultSetMetaData.class.getSimpleName()) ? new HashMap<>() : null;
    }

    final Object seen(Class<?> face) {
        return Proxy.newProxyInstance(Far.class.getClassLoader(), new Class<?>[] {face}, this);
    }

    final Link link() {
        return link;
    }

    @Override
    public final Object invoke(Object proxy, Method method, Object[] arguments) throws Throwable {
        if (method.getDeclaringClass() == Object.class) {
            return switch (method.getName()) {
                case "equals" -> proxy == arguments[0];
                case "hashCode" -> System.identityHashCode(proxy);
                default -> ref.face() + " " + ref.id();
            };
        }
        return call(Session.signature(method), arguments == null ? new Object[0] : arguments);
    }

    /**
     * A call of one of its methods.
     *
     * @param what its name, with the types of what it is given
     */
    Object call(String what, Object[] given) throws SQLException {
        if (what.equals("close()") && (isLink || link.isClosed())) {
            // with the connection goes all that belongs to it
            link.close();
            return null;
        }
        if (isLink && what.startsWith("abort(")) {
            link.abort();
            return null;
        }
        if (what.equals("isClosed()") && link.isClosed()) {
            return true;
        }
        if (known == null) {
            return ask(what, given);
        }
        List<Object> asked = List.of(what, Arrays.asList(given));
        if (!known.containsKey(asked)) {
            known.put(asked, ask(what, given));
        }
        return known.get(asked);
    }

    final Object ask(String what, Object... given) throws SQLException {
        Object[] sent = new Object[given.length];
        for (int i = 0; i < given.length; i++) {
            boolean far = given[i] != null
                    && Proxy.isProxyClass(given[i].getClass())
                    && Proxy.getInvocationHandler(given[i]) instanceof Far;
            sent[i] = far ? ((Far) Proxy.getInvocationHandler(given[i])).ref : given[i];
        }
        return link.ask(ref.id(), what, sent);
    }

    final int id() {
        return ref.id();
    }
}
