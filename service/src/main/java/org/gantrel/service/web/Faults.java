package org.gantrel.service.web;

import jakarta.servlet.RequestDispatcher;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import org.gantrel.service.http.ProblemView;
import org.springframework.boot.webmvc.error.ErrorController;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** What the server itself turns down, before or after any of our own code, answered in the one shape of an error. */
@RestController
class Faults implements ErrorController {

    @RequestMapping("/error")
    ResponseEntity<ProblemView> fault(HttpServletRequest request) {
        if (request.getAttribute(RequestDispatcher.ERROR_EXCEPTION) instanceof IOException) {
            // whoever called has gone, or says nothing any more
            return null;
        }
        Object given = request.getAttribute(RequestDispatcher.ERROR_STATUS_CODE);
        HttpStatus status = given instanceof Integer code ? HttpStatus.resolve(code) : null;
        HttpStatus shown = status == null ? HttpStatus.INTERNAL_SERVER_ERROR : status;
        String detail = shown.is5xxServerError() ? "the service's own log says more" : "the call is not understood";
        return ResponseEntity.status(shown)
                .contentType(MediaType.APPLICATION_PROBLEM_JSON)
                .body(new ProblemView(
                        "about:blank",
                        shown.getReasonPhrase(),
                        shown.value(),
                        detail,
                        String.valueOf(request.getAttribute(RequestDispatcher.ERROR_REQUEST_URI)),
                        null));
    }
}
