package org.gantrel.service.web;

import io.swagger.v3.oas.models.Components;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.info.Info;
import io.swagger.v3.oas.models.info.License;
import io.swagger.v3.oas.models.security.SecurityRequirement;
import io.swagger.v3.oas.models.security.SecurityScheme;
import io.swagger.v3.oas.models.servers.Server;
import java.util.List;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.annotation.PropertySource;

/**
 * What stands at the head of the API's description (OpenAPI 3.1). The description is made out of the code in tests alone;
 * the service serves what was made then.
 */
@Configuration
@PropertySource("classpath:springdoc.properties")
class ApiDocument {

    private static final String TOKEN = "token";

    @Bean
    OpenAPI document() {
        return new OpenAPI()
                .info(new Info()
                        .title("Gantrel")
                        .version("1")
                        .description(
                                "A shared job scheduler. Instants are RFC 3339 in UTC, durations ISO 8601, errors RFC"
                                        + " 9457; lists are paged with limit, after and Link headers (RFC 8288).")
                        .license(new License().name("Apache-2.0").identifier("Apache-2.0")))
                .servers(List.of(new Server().url("/").description("this service")))
                .components(new Components()
                        .addSecuritySchemes(
                                TOKEN,
                                new SecurityScheme()
                                        .type(SecurityScheme.Type.HTTP)
                                        .scheme("bearer")))
                .addSecurityItem(new SecurityRequirement().addList(TOKEN));
    }
}
