package org.gantrel.service.notification;

import org.springframework.data.jpa.repository.JpaRepository;

interface DigestToldStore extends JpaRepository<DigestTold, String> {}
