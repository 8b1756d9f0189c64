package org.gantrel.service.credential;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface CredentialStore extends JpaRepository<CredentialRecord, Long> {

    @Query("select c from CredentialRecord c join fetch c.team where c.name = :name")
    Optional<CredentialRecord> named(String name);

    @Query("select c from CredentialRecord c join fetch c.team order by c.name")
    List<CredentialRecord> everything();
}
