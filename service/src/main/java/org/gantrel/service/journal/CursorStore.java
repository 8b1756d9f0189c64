package org.gantrel.service.journal;

import org.springframework.data.jpa.repository.JpaRepository;

interface CursorStore extends JpaRepository<CursorRecord, String> {}
