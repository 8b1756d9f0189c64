package org.gantrel.service.notification;

import org.springframework.data.jpa.repository.JpaRepository;

interface PersonSayStore extends JpaRepository<PersonSay, String> {}
