package org.gantrel.service.database;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;
import static org.mockito.Mockito.withSettings;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.ObjectOutputStream;
import java.math.BigDecimal;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Array;
import java.sql.Blob;
import java.sql.Clob;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Types;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Properties;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.Executors;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.gantrel.service.settings.Settings;
import org.h2.tools.Server;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A database that a process beside the service works on")
class DatabaseProcessesTest {

    /** Little enough for a test to fill it. */
    private static final int MEMORY = 96;

    private static final String DATABASE = "/mem:fares;DB_CLOSE_DELAY=-1";

    /** Values of each type, as they stand in a statement. */
    private static final List<String> VALUES = List.of(
            "cast(null as int)",
            "7",
            "cast(7 as smallint)",
            "3000000000",
            "cast(0.1 as double precision)",
            "cast('NaN' as real)",
            "cast(12.50 as decimal(10, 2))",
            "1e40",
            "true",
            "'a fare of 12 € with \"quotes\"'",
            "''",
            "cast('a text' as clob)",
            "cast(X'00ff10' as blob)",
            "X'00ff10'",
            "date '2026-11-29'",
            "date '0044-03-15'",
            "time '23:59:59.123'",
            "timestamp '2026-03-29 02:30:00.123456789'",
            "timestamp with time zone '2026-11-29 10:00:00+05:30'",
            "uuid '6ecd8c99-4036-403d-bf84-cf8400f67836'",
            "interval '90' minute",
            "array[1, 2, null]",
            "array['a', 'b']",
            "json '{\"fare\": 12}'",
            "row (1, 'a')");

    @TempDir
    static Path folder;

    private static Server server;
    private static DatabaseProcesses processes;
    private static Connection near;

    @BeforeAll
    static void start() throws SQLException {
        server = Server.createTcpServer("-tcpPort", "0", "-ifNotExists").start();
        Settings settings = mock(Settings.class);
        when(settings.data()).thenReturn(folder);
        processes = new DatabaseProcesses(settings, MEMORY);
        near = DriverManager.getConnection(url());
    }

    @AfterAll
    static void end() throws SQLException {
        near.close();
        processes.destroy();
        server.stop();
    }

    private static String url() {
        return "jdbc:h2:tcp://127.0.0.1:" + server.getPort() + DATABASE;
    }

    private static Connection far(String whose) throws SQLException {
        return processes.connect(whose, Duration.ofMinutes(1), url(), new Properties());
    }

    private static Object plain(Object value) throws SQLException {
        if (value instanceof Clob clob) {
            return clob.getSubString(1, (int) clob.length());
        }
        if (value instanceof Blob blob) {
            return blob.getBytes(1, (int) blob.length());
        }
        return value instanceof Array array ? array.getArray() : value;
    }

    private interface Asked {
        Object of(ResultSet rows) throws SQLException;
    }

    private static Object or(ResultSet rows, Asked asked) {
        try {
            return plain(asked.of(rows));
        } catch (SQLException e) {
            return e.getErrorCode() + e.getMessage();
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    @DisplayName("gives each value as its driver does")
    void givesValues(long seed) throws SQLException {
        var random = new Random(seed);
        List<String> columns = new ArrayList<>();
        for (int i = 0; i < VALUES.size(); i++) {
            columns.add(VALUES.get(random.nextInt(VALUES.size())) + " as c" + i);
        }
        columns.add("x * 1.5 as fare");
        String query = "select " + String.join(", ", columns) + " from system_range(1, 1200) where x > ?";
        try (Connection far = far("values");
                PreparedStatement asked = far.prepareStatement(query);
                PreparedStatement expected = near.prepareStatement(query)) {
            asked.setInt(1, 5);
            expected.setInt(1, 5);
            try (ResultSet rows = asked.executeQuery();
                    ResultSet same = expected.executeQuery()) {
                assertThat(rows.getMetaData().getColumnCount()).isEqualTo(columns.size());
                while (same.next()) {
                    assertThat(rows.next()).isTrue();
                    for (int i = 1; i <= columns.size(); i++) {
                        int column = i;
                        String name = same.getMetaData().getColumnLabel(i);
                        assertThat(or(rows, each -> each.getString(name.toLowerCase(Locale.ROOT))))
                                .as("the text of %s", columns.get(i - 1))
                                .isEqualTo(or(same, each -> each.getString(column)));
                        Object value = or(same, each -> each.getObject(column));
                        boolean isKnown = value == null
                                || value.getClass().getName().startsWith("java.")
                                || value.getClass().isArray();
                        assertThat(or(rows, each -> each.getObject(column)))
                                .as("the value of %s", columns.get(i - 1))
                                .isEqualTo(isKnown ? value : or(same, each -> each.getString(column)));
                    }
                }
                assertThat(rows.next()).isFalse();
            }
        }
    }

    @Test
    @DisplayName("takes what it is given, many rows together, and goes back to where it was")
    void takesRows() throws SQLException {
        try (Connection far = far("rows")) {
            far.setAutoCommit(false);
            far.prepareStatement("create table leg (no int primary key, fare decimal(8, 2), name clob)")
                    .execute();
            try (PreparedStatement insert = far.prepareStatement("insert into leg values (?, ?, ?)")) {
                for (int i = 0; i < 2_300; i++) {
                    insert.setInt(1, i);
                    insert.setObject(2, i % 3 == 0 ? null : new BigDecimal(i + ".25"));
                    insert.setString(3, "leg " + "x".repeat(i));
                    insert.addBatch();
                }
                assertThat(insert.executeBatch()).isNotEmpty();
            }
            Savepoint before = far.setSavepoint();
            assertThat(far.prepareStatement("delete from leg where no > 10").executeUpdate())
                    .isEqualTo(2_289);
            assertThatThrownBy(() -> far.prepareStatement("insert into leg values (1, 1, '')")
                            .executeUpdate())
                    .isInstanceOf(SQLException.class)
                    .hasMessageContaining("primary key violation")
                    .extracting(e -> ((SQLException) e).getSQLState())
                    .isEqualTo("23505");
            far.rollback(before);
            far.commit();
        }
        try (ResultSet rows =
                near.createStatement().executeQuery("select count(*), sum(fare), max(length(name)) from leg")) {
            rows.next();
            assertThat(rows.getInt(1)).isEqualTo(2_300);
            assertThat(rows.getBigDecimal(2))
                    .isEqualTo(IntStream.range(0, 2_300)
                            .filter(i -> i % 3 != 0)
                            .mapToObj(i -> new BigDecimal(i + ".25"))
                            .reduce(BigDecimal.ZERO, BigDecimal::add));
            assertThat(rows.getInt(3)).isEqualTo(4 + 2_299);
        }
    }

    private static long letters(Connection far, int columns, int length) throws SQLException {
        String query = "select "
                + IntStream.range(0, columns)
                        .mapToObj(i -> "repeat('x', " + length + ") as c" + i)
                        .collect(Collectors.joining(", "));
        try (PreparedStatement asked = far.prepareStatement(query);
                ResultSet rows = asked.executeQuery()) {
            rows.next();
            long letters = 0;
            for (int i = 1; i <= columns; i++) {
                letters += rows.getString(i).length();
            }
            return letters;
        }
    }

    @Test
    @DisplayName("costs nobody else anything where what it answers takes all memory that there is for it")
    void isTooLarge() throws SQLException {
        try (Connection other = far("others")) {
            try (Connection far = far("large")) {
                assertThat(letters(far, 20, 1_000_000)).isEqualTo(20_000_000);
                assertThatThrownBy(() -> letters(far, 40, 1_000_000))
                        .isInstanceOf(SQLException.class)
                        .hasMessageMatching(
                                "a row of more than 33554432 characters or bytes is too long: at most 33554432 are held"
                                        + " at a time|an answer takes more than the 96 MB of memory that there are for it");
            }
            try (Connection far = far("large")) {
                assertThatThrownBy(() -> letters(far, 200, 1_000_000))
                        .isInstanceOf(SQLException.class)
                        .hasMessage("an answer takes more than the 96 MB of memory that there are for it");
                assertThatThrownBy(() -> far.prepareStatement("select 1")).hasMessage("the connection is closed");
            }
            assertThat(letters(other, 3, 10)).isEqualTo(30);
        }
        try (Connection far = far("large")) {
            assertThat(letters(far, 2, 1_000_000)).isEqualTo(2_000_000);
        }
    }

    /** Sets within sets: to put them together takes longer than there is time in the world. */
    private static String endless() throws Exception {
        Set<Object> all = new HashSet<>();
        Set<Object> one = all;
        Set<Object> other = new HashSet<>();
        for (int i = 0; i < 60; i++) {
            Set<Object> left = new HashSet<>(Set.of("fare"));
            Set<Object> right = new HashSet<>();
            one.add(left);
            one.add(right);
            other.add(left);
            other.add(right);
            one = left;
            other = right;
        }
        var bytes = new ByteArrayOutputStream();
        new ObjectOutputStream(bytes).writeObject(all);
        return HexFormat.of().formatHex(bytes.toByteArray());
    }

    @Test
    @DisplayName("makes no object of Java of what it answers")
    void makesNoObjects() throws Exception {
        String object = "cast(X'" + endless() + "' as java_object)";
        try (Connection far = far("objects");
                PreparedStatement asked = far.prepareStatement("select 1, " + object + ", array[" + object + "]");
                ResultSet rows = asked.executeQuery()) {
            assertThat(rows.next()).isTrue();
            assertThat(rows.getObject(1)).isEqualTo(1);
            assertThatThrownBy(() -> rows.getObject(2))
                    .hasMessage("objects of Java are not read; 'cast(... as varbinary)' gives their bytes");
            assertThatThrownBy(() -> rows.getObject(3)).hasMessageContaining("REJECTED");
        }
    }

    @Test
    @DisplayName("is waited for no longer than its asker goes on, also where it says nothing at all")
    void isLeft() throws Exception {
        var pool = Executors.newSingleThreadExecutor();
        try (var silent = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
            String address = "jdbc:h2:tcp://127.0.0.1:" + silent.getLocalPort() + "/fares";
            var begun = new CompletableFuture<Thread>();
            var told = pool.submit(() -> {
                begun.complete(Thread.currentThread());
                return processes.connect("silent", Duration.ofMinutes(1), address, new Properties());
            });
            silent.accept();
            begun.get().interrupt();
            assertThatThrownBy(told::get).hasMessageContaining("stopped before the database had answered");
        } finally {
            pool.shutdown();
        }
    }

    @Test
    @DisplayName("is left at once by whoever has to end, and after a time by whoever looks, though it goes on")
    void isLeftWhileItWorks() throws Exception {
        String endless = "select count(*) from system_range(1, 1000000) a, system_range(1, 1000000) b";
        var pool = Executors.newSingleThreadExecutor();
        try (Connection far = far("busy")) {
            PreparedStatement asked = far.prepareStatement(endless);
            var begun = new CompletableFuture<Thread>();
            var told = pool.submit(() -> {
                begun.complete(Thread.currentThread());
                return asked.executeQuery();
            });
            while (begun.get().getState() != Thread.State.TIMED_WAITING) {
                Thread.onSpinWait();
            }
            far.abort(Runnable::run);
            asked.cancel();
            assertThatThrownBy(told::get).hasMessageContaining("stopped before the database had answered");
        } finally {
            pool.shutdown();
        }
        try (Connection far = processes.connect("busy", Duration.ofSeconds(1), url(), new Properties())) {
            PreparedStatement asked = far.prepareStatement(endless);
            assertThatThrownBy(asked::executeQuery).hasMessage("it did not answer within 1.0 s");
            asked.cancel();
            // what follows does not wait for it once more
            asked.close();
            assertThat(far.isClosed()).isTrue();
        }
    }

    @Test
    @DisplayName("may have a driver whose objects are several things: each is seen as what was asked for")
    void areWhatWasAskedFor() {
        ResultSet both = mock(ResultSet.class, withSettings().extraInterfaces(ResultSetMetaData.class));
        assertThat(Session.faceOf(both, ResultSet.class)).contains(ResultSet.class);
        assertThat(Session.faceOf(both, ResultSetMetaData.class)).contains(ResultSetMetaData.class);
        assertThat(Session.faceOf(both, Object.class)).contains(ResultSet.class);
        assertThat(Session.faceOf(null, ResultSet.class)).isEmpty();
        assertThat(Session.faceOf(7, int.class)).isEmpty();
    }

    @Test
    @DisplayName("gives no more values at a time than there is memory for, however few letters they take")
    void areFew() throws SQLException, IOException {
        var columns = mock(ResultSetMetaData.class);
        when(columns.getColumnCount()).thenReturn(RowPages.MOST_COLUMNS + 1);
        var rows = mock(ResultSet.class);
        when(rows.getMetaData()).thenReturn(columns);
        assertThatThrownBy(() -> new RowPages(rows)).hasMessageContaining("20001 columns are too wide");
        when(rows.getObject(1)).thenReturn(new Object[Values.MOST_ELEMENTS + 1]);
        assertThatThrownBy(() -> Cell.of(rows, 1, Types.ARRAY).object())
                .hasMessage("an array of 1000001 values is too long: at most 1000000 are read");
        var bytes = new ByteArrayOutputStream();
        Values.write(new DataOutputStream(bytes), new Object[Values.MOST_ELEMENTS + 1]);
        assertThatThrownBy(() -> Values.read(ByteBuffer.wrap(bytes.toByteArray())))
                .isInstanceOf(IOException.class)
                .hasMessage("an array of 1000001 values");
    }

    @Test
    @DisplayName("has a process by itself as long as there may be more, and one that is killed is there again at once")
    void areBounded() throws Exception {
        var open = new ArrayList<Connection>();
        for (int i = 0; i < DatabaseProcesses.MOST + 3; i++) {
            open.add(far("bounded-" + i));
        }
        assertThat(children()).hasSize(DatabaseProcesses.MOST);
        for (Connection each : open) {
            assertThat(letters(each, 1, 7)).isEqualTo(7);
        }
        children().forEach(ProcessHandle::destroyForcibly);
        for (Connection each : open) {
            assertThatThrownBy(() -> letters(each, 1, 7))
                    .hasMessage("the process that works on this database has ended");
            each.close();
        }
        try (Connection again = far("bounded-0")) {
            assertThat(letters(again, 1, 7)).isEqualTo(7);
        }
    }

    private static List<ProcessHandle> children() {
        try (Stream<ProcessHandle> all = ProcessHandle.current().children()) {
            return all.filter(each -> {
                        try {
                            String line = Files.readString(Path.of("/proc", String.valueOf(each.pid()), "cmdline"));
                            return line.contains(DatabaseProgram.class.getName()) && line.contains(folder.toString());
                        } catch (IOException e) {
                            // it has ended
                            return false;
                        }
                    })
                    .toList();
        }
    }
}
