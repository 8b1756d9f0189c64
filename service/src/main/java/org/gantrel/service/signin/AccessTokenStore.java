package org.gantrel.service.signin;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.service.team.Person;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface AccessTokenStore extends JpaRepository<AccessToken, Long> {

    @Query("select t from AccessToken t join fetch t.person where t.hash = :hash")
    Optional<AccessToken> withHash(String hash);

    @Modifying
    @Query("update AccessToken t set t.lastUsedAt = :now where t.id = :id")
    void used(long id, Instant now);

    List<AccessToken> findByPersonAndKindOrderById(Person person, AccessToken.Kind kind);

    void deleteByHash(String hash);

    void deleteByExpiresAtBefore(Instant at);

    void deleteByPerson(Person person);
}
