package org.gantrel.service.schedule;

import org.springframework.data.jpa.repository.JpaRepository;

interface OccurrenceStore extends JpaRepository<OccurrenceRecord, Long> {}
