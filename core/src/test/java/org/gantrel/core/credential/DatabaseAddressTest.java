package org.gantrel.core.credential;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("The address of a database")
class DatabaseAddressTest {

    private static final List<String> LISTED = List.of("jdbc:tide://gauges.example.org/", "jdbc:h2:");

    @ParameterizedTest
    @DisplayName("may be that of a server, with properties that are known to be harmless")
    @ValueSource(
            strings = {
                "jdbc:h2:tcp://127.0.0.1:9092/tickets",
                "jdbc:h2:tcp://db.example.org/~/tickets;MODE=PostgreSQL;ifexists=TRUE",
                "jdbc:h2:ssl://[::1]:9092/mem:tickets",
                "jdbc:postgresql://db.example.org/tickets",
                "jdbc:postgresql://a.example.org:5433,b.example.org/tickets?targetServerType=primary&sslmode=verify-full",
                "jdbc:tide://gauges.example.org/skarholm"
            })
    void allowed(String url) {
        assertThat(DatabaseAddress.complaint(url, LISTED)).isEmpty();
    }

    @ParameterizedTest
    @DisplayName("is refused where it could open a file or run code within the service")
    @ValueSource(
            strings = {
                "jdbc:h2:mem:x",
                "jdbc:h2:mem:",
                "JDBC:H2:MEM:x",
                "jdbc:h2:~/x",
                "jdbc:h2:./x",
                "jdbc:h2:file:/srv/x",
                "jdbc:h2:nio:/srv/x",
                "jdbc:h2:zip:/srv/x.zip!/x",
                "jdbc:h2:classpath:x",
                "jdbc:h2:async:retry:/srv/x",
                "jdbc:h2:tcp://h/x;INIT=RUNSCRIPT FROM 'a'",
                "jdbc:h2:tcp://h/x;init=drop table x",
                "jdbc:h2:tcp://h/x;I\\NIT=x",
                "jdbc:h2:tcp://h/x;MODE=MySQL;TRACE_LEVEL_FILE=3",
                "jdbc:h2:tcp://h/x;DATABASE_EVENT_LISTENER='a.B'",
                "jdbc:h2:tcp://h/x;AUTHENTICATOR=x;",
                "jdbc:h2:tcp://h/x;FORBID_CREATION=x;;IFEXISTS",
                "jdbc:postgresql:tickets",
                "jdbc:postgresql://h/x?socketFactory=a.B&socketFactoryArg=c",
                "jdbc:postgresql://h/x?sslfactory=a.B",
                "jdbc:postgresql://h/x?loggerFile=/srv/x",
                "jdbc:postgresql://h/x?user=a&password=b",
                "jdbc:postgresql://h/x?socket%46actory=a",
                "jdbc:tide://gauges.example.org/x?script=a",
                "jdbc:tide://gauges.example.org.evil.example.org/x",
                "jdbc:ldap://h/x",
                "jdbc:sqlite:/srv/x",
                ""
            })
    void refused(String url) {
        assertThat(DatabaseAddress.complaint(url, LISTED)).isPresent();
    }
}
