package org.gantrel.service.web;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.Base64;
import java.util.Map;
import org.gantrel.service.refusal.Refusal;
import org.springframework.core.io.ClassPathResource;
import org.springframework.core.io.Resource;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/**
 * Serves the console's built files. Its page carries a nonce of its own for styles, so that no other inline style or
 * script is taken by a browser (Content Security Policy Level 3).
 */
@RestController
class Console {

    private static final String PAGE = "console/index.html";
    private static final String NONCE_PLACE = "__NONCE__";
    private static final Map<String, String> TYPES = Map.of(
            "js", "text/javascript;charset=utf-8",
            "css", "text/css;charset=utf-8",
            "woff2", "font/woff2",
            "svg", "image/svg+xml",
            "png", "image/png",
            "ico", "image/x-icon");

    private final SecureRandom random = new SecureRandom();

    @GetMapping("/assets/{file:[A-Za-z0-9._-]+}")
    ResponseEntity<Resource> asset(@PathVariable String file) {
        var resource = new ClassPathResource("console/assets/" + file);
        String type = TYPES.get(file.substring(file.lastIndexOf('.') + 1));
        if (type == null || !resource.exists()) {
            throw Refusal.notFound("there is no file " + file);
        }
        // the name of a file holds a hash of what is in it, so what was fetched once stays right
        return ResponseEntity.ok()
                // a shared worker lives by the policy of its own file
                .header("Content-Security-Policy", "default-src 'none'; script-src 'self'; connect-src 'self'")
                .cacheControl(
                        CacheControl.maxAge(Duration.ofDays(365)).cachePublic().immutable())
                .header("Content-Type", type)
                .body(resource);
    }

    /** Every other address is one of the console's own pages. */
    @GetMapping({
        "/",
        "/{page:[a-z-]+}",
        "/{page:[a-z-]+}/{name:[A-Za-z0-9-]+}",
        "/{page:[a-z-]+}/{name:[A-Za-z0-9-]+}/{part:[a-z-]+}",
        "/{page:[a-z-]+}/{name:[A-Za-z0-9-]+}/{part:[a-z-]+}/{which:[A-Za-z0-9-]+}"
    })
    ResponseEntity<String> page(HttpServletRequest request) throws IOException {
        if (request.getRequestURI().startsWith("/api/")) {
            throw Refusal.notFound(
                    "there is nothing at " + request.getRequestURI() + "; /api/openapi.json lists what is");
        }
        var resource = new ClassPathResource(PAGE);
        if (!resource.exists()) {
            throw Refusal.notFound("this service was built without its console; 'npm run build' in console/ makes it");
        }
        byte[] bytes = new byte[16];
        random.nextBytes(bytes);
        String nonce = Base64.getEncoder().encodeToString(bytes);
        try (InputStream in = resource.getInputStream()) {
            String html = new String(in.readAllBytes(), StandardCharsets.UTF_8).replace(NONCE_PLACE, nonce);
            return ResponseEntity.ok()
                    .contentType(new MediaType("text", "html", StandardCharsets.UTF_8))
                    .cacheControl(CacheControl.noStore())
                    .header("Content-Security-Policy", policy(nonce))
                    .body(html);
        }
    }

    private static String policy(String nonce) {
        return "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-" + nonce + "'; img-src 'self' data:; "
                + "font-src 'self'; connect-src 'self'; worker-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";
    }
}
