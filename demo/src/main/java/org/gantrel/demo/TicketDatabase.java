package org.gantrel.demo;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Date;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.util.List;
import java.util.Random;
import org.h2.tools.Server;

/** The ticket office's database, made up anew where there is none: sales, season passes, complaints. */
final class TicketDatabase {

    private static final long SEED = 20_261_123;
    private static final int DAYS = 60;
    private static final List<String> ROUTES = List.of("skarholm", "outer-isles", "sound");

    private TicketDatabase() {}

    /** Serves the database that lies in a folder. */
    static void start(int port, Path folder) throws SQLException {
        Server.createTcpServer("-tcpPort", String.valueOf(port), "-baseDir", folder.toString(), "-ifNotExists")
                .start();
        if (!Files.exists(folder.resolve("tickets.mv.db"))) {
            try (Connection connection = DriverManager.getConnection(
                            "jdbc:h2:tcp://127.0.0.1:" + port + "/tickets", "settle", "low-tide-at-noon");
                    Statement statement = connection.createStatement()) {
                statement.execute("create table sale (id int primary key, sold_on date not null,"
                        + " route varchar(20) not null, cents int not null)");
                statement.execute("create table season_pass (number int primary key, holder varchar(60) not null,"
                        + " mail varchar(120) not null, route varchar(20) not null, ends_on date not null)");
                statement.execute("create table complaint (number int primary key, about varchar(120) not null,"
                        + " state varchar(20) not null, touched_on date not null, urgency int not null)");
                statement.execute("create table boarding_gate (name varchar(20) primary key, passengers int not null)");
                statement.execute("insert into boarding_gate values ('north', 212), ('south', 86), ('ferry-ramp', 41)");
                statement.execute("create table tide_warning (number int primary key)");
                fill(connection, LocalDate.now());
            }
        }
    }

    private static void fill(Connection connection, LocalDate today) throws SQLException {
        var random = new Random(SEED);
        try (PreparedStatement sale = connection.prepareStatement("insert into sale values (?, ?, ?, ?)")) {
            int id = 0;
            for (int day = DAYS; day >= 0; day--) {
                for (int i = 0; i < 12 + random.nextInt(10); i++) {
                    sale.setInt(1, ++id);
                    sale.setDate(2, Date.valueOf(today.minusDays(day)));
                    sale.setString(3, ROUTES.get(random.nextInt(ROUTES.size())));
                    sale.setInt(4, 4_500 + 500 * random.nextInt(20));
                    sale.addBatch();
                }
            }
            sale.executeBatch();
        }
        try (PreparedStatement pass = connection.prepareStatement("insert into season_pass values (?, ?, ?, ?, ?)")) {
            for (int number = 1; number <= 40; number++) {
                pass.setInt(1, 7_000 + number);
                pass.setString(2, "Commuter " + number);
                pass.setString(3, "commuter" + number + "@example.org");
                pass.setString(4, ROUTES.get(number % ROUTES.size()));
                pass.setDate(5, Date.valueOf(today.plusDays(random.nextInt(60) - 5)));
                pass.addBatch();
            }
            pass.executeBatch();
        }
        try (PreparedStatement complaint =
                connection.prepareStatement("insert into complaint values (?, ?, ?, ?, ?)")) {
            for (int number = 1; number <= 15; number++) {
                complaint.setInt(1, number);
                complaint.setString(2, number % 2 == 0 ? "a late sailing" : "a closed kiosk");
                complaint.setString(3, number % 4 == 0 ? "closed" : "open");
                complaint.setDate(4, Date.valueOf(today.minusDays(random.nextInt(20))));
                complaint.setInt(5, 1);
                complaint.addBatch();
            }
            complaint.executeBatch();
        }
    }
}
