package org.gantrel.service.run;

import java.util.List;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;

interface WishStore extends JpaRepository<Wish, Long> {

    List<Wish> findByOrderById(Limit limit);

    boolean existsByRunNumber(long run);
}
