package org.gantrel.service.web;

import org.springframework.core.io.ClassPathResource;
import org.springframework.core.io.Resource;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** The API's description (OpenAPI 3.1), as a test has made it out of the code and compared it since. */
@RestController
class OpenApi {

    private final Resource document = new ClassPathResource("api/openapi.json");

    @GetMapping(path = "/api/openapi.json", produces = MediaType.APPLICATION_JSON_VALUE)
    Resource document() {
        return document;
    }
}
