package org.gantrel.service.choice;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.regex.Pattern;
import javax.sql.DataSource;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** How people like things to be shown: kept for them, whatever device they use; what it means is the console's business. */
@Component
public class Choices {

    private static final Pattern NAME = Pattern.compile("[a-z0-9][a-z0-9.:-]{0,79}");
    private static final int LONGEST = 2_000;
    private static final int MOST = 200;

    private final JdbcTemplate database;

    Choices(DataSource database) {
        this.database = new JdbcTemplate(database);
    }

    /** What somebody has chosen, by its name. */
    @Transactional(readOnly = true)
    public Map<String, String> of(String person) {
        var all = new LinkedHashMap<String, String>();
        database.query(
                "select name, chosen from person_choice where person = ? order by name",
                row -> {
                    all.put(row.getString(1), row.getString(2));
                },
                person);
        return all;
    }

    /**
     * Keeps a choice.
     *
     * @param chosen the empty text takes the choice back
     * @throws InvalidException for a name that is none, a text that is too long, or one choice too many
     */
    @Transactional
    public void keep(String person, String name, String chosen) {
        var problems = new ArrayList<Problem>();
        if (!NAME.matcher(name).matches()) {
            problems.add(
                    Problem.of(
                            "name",
                            "has up to 80 characters, small letters, digits and '.', ':' or '-' between them, such as 'dates'"));
        }
        if (chosen.length() > LONGEST) {
            problems.add(
                    Problem.of("chosen", "has " + chosen.length() + " characters; at most " + LONGEST + " are kept"));
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        if (chosen.isEmpty()) {
            database.update("delete from person_choice where person = ? and name = ?", person, name);
            return;
        }
        Map<String, String> known = of(person);
        if (known.size() >= MOST && !known.containsKey(name)) {
            throw new InvalidException(
                    "name", "there are " + MOST + " choices already, which is all that are kept; take one back");
        }
        database.update(
                "merge into person_choice (person, name, chosen) key (person, name) values (?, ?, ?)",
                person,
                name,
                chosen);
    }
}
