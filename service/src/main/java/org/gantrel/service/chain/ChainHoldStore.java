package org.gantrel.service.chain;

import org.springframework.data.jpa.repository.JpaRepository;

interface ChainHoldStore extends JpaRepository<ChainHoldRecord, Long> {}
