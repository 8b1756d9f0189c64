package org.gantrel.service.durable;

import static org.assertj.core.api.Assertions.assertThat;

import com.zaxxer.hikari.HikariDataSource;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.HashSet;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.gantrel.service.Await;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What was not forced to the disk is lost at a cut; a layer under H2 loses it. */
@DisplayName("A power cut")
class PowerCutTest {

    private static final int CUTS = Integer.getInteger("gantrel.cuts", 120);

    @TempDir
    Path folder;

    @Test
    @DisplayName("at any of many random moments loses nothing that was forced, and leaves the books whole")
    void losesNothing() throws Exception {
        var random = new Random(26);
        int lost = 0;
        for (int cut = 0; cut < CUTS; cut++) {
            Path file = folder.resolve("cut" + cut % 4);
            Files.deleteIfExists(Path.of(file + ".mv.db"));
            Set<Integer> kept = write(file, random);
            Set<Integer> found = read(file);
            assertThat(found).as("cut %d", cut).containsAll(kept);
            // what was written in one transaction is there whole or not at all
            assertThat(found).allMatch(number -> found.contains(number ^ 1));
            lost += CutFilePath.lost();
        }
        // a layer that loses nothing would prove nothing
        assertThat(lost).isPositive();
    }

    /** Writes pairs of rows until the power goes; says which were forced to the disk by then. */
    private Set<Integer> write(Path file, Random random) throws Exception {
        Set<Integer> kept = ConcurrentHashMap.newKeySet();
        CutFilePath.powerOn(random.nextLong());
        int writesUntilCut = random.nextInt(4, 60);
        try (HikariDataSource pool = CutFilePath.pool(file)) {
            try (Connection connection = pool.getConnection()) {
                connection.createStatement().execute("create table book (number int primary key, pad varchar(2000))");
            }
            var durability = new Durability(pool, new Collapse(), new Apart());
            durability.sync();
            CutFilePath.cutAfter(writesUntilCut);
            var done = new CountDownLatch(2);
            for (int writer = 0; writer < 2; writer++) {
                int first = writer * 10_000;
                new Thread(() -> {
                            try {
                                for (int i = 0; i < 40; i++) {
                                    int number = first + 2 * i;
                                    pair(pool, number);
                                    durability.write();
                                    durability.sync();
                                    kept.add(number);
                                    kept.add(number + 1);
                                }
                            } catch (SQLException | RuntimeException e) {
                                // the power is off
                            } finally {
                                done.countDown();
                            }
                        })
                        .start();
            }
            assertThat(done.await(Await.PATIENCE.toSeconds(), TimeUnit.SECONDS)).isTrue();
            CutFilePath.cut();
        } catch (SQLException | RuntimeException e) {
            CutFilePath.cut();
        }
        return kept;
    }

    private static void pair(HikariDataSource pool, int number) throws SQLException {
        try (Connection connection = pool.getConnection()) {
            connection.setAutoCommit(false);
            for (int each : new int[] {number, number + 1}) {
                connection.createStatement().execute("insert into book values (" + each + ", repeat('x', 1500))");
            }
            connection.commit();
        }
    }

    private static Set<Integer> read(Path file) throws SQLException {
        var numbers = new HashSet<Integer>();
        try (Connection connection = DriverManager.getConnection("jdbc:h2:file:" + file, "gantrel", "");
                ResultSet rows = connection.createStatement().executeQuery("select number from book")) {
            while (rows.next()) {
                numbers.add(rows.getInt(1));
            }
        }
        return numbers;
    }
}
