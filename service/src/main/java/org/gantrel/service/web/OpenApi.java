package org.gantrel.service.web;

import org.gantrel.core.definition.DefinitionSchema;
import org.springframework.core.io.ByteArrayResource;
import org.springframework.core.io.ClassPathResource;
import org.springframework.core.io.Resource;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.json.JsonMapper;

/**
 * What describes the API to programs, open to all: its document (OpenAPI 3.1), as a test has made it out of the code and compared
 * it since, and the schema of definitions.
 */
@RestController
class OpenApi {

    private final Resource document = new ClassPathResource("api/openapi.json");
    private final Resource schema =
            new ByteArrayResource(JsonMapper.builder().build().writeValueAsBytes(DefinitionSchema.all()));

    @GetMapping(path = "/api/openapi.json", produces = MediaType.APPLICATION_JSON_VALUE)
    Resource document() {
        return document;
    }

    /** The JSON Schema of a definition, for editors outside; it is the same for everybody, and holds nothing of anybody. */
    @GetMapping(path = "/api/definition.schema.json", produces = "application/schema+json")
    Resource definitionSchema() {
        return schema;
    }
}
