package org.gantrel.service.backup;

import org.gantrel.service.engine.EnginePulse;
import org.springframework.stereotype.Component;

/** Ends a putting back: from its first step on the engine knows what was under way. */
@Component
class PutBackOver {

    PutBackOver(EnginePulse engine, PutBack putBack) {
        engine.onStep(took -> putBack.forget());
    }
}
