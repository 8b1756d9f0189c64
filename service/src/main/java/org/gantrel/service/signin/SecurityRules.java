package org.gantrel.service.signin;

import jakarta.servlet.http.HttpServletRequest;
import java.util.Set;
import org.gantrel.service.guard.Arrival;
import org.gantrel.service.guard.Fairness;
import org.gantrel.service.guard.ProblemWriter;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.HttpStatus;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.config.annotation.web.configurers.AbstractHttpConfigurer;
import org.springframework.security.config.http.SessionCreationPolicy;
import org.springframework.security.core.userdetails.UserDetailsService;
import org.springframework.security.core.userdetails.UsernameNotFoundException;
import org.springframework.security.crypto.bcrypt.BCryptPasswordEncoder;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.access.intercept.AuthorizationFilter;
import org.springframework.security.web.authentication.session.NullAuthenticatedSessionStrategy;
import org.springframework.security.web.csrf.CookieCsrfTokenRepository;
import org.springframework.security.web.csrf.CsrfFilter;
import org.springframework.security.web.csrf.CsrfTokenRequestAttributeHandler;
import org.springframework.security.web.header.writers.CrossOriginOpenerPolicyHeaderWriter.CrossOriginOpenerPolicy;
import org.springframework.security.web.header.writers.ReferrerPolicyHeaderWriter.ReferrerPolicy;

/** What is open to everybody, how a caller is recognised, and the headers that keep browsers careful. */
@Configuration
class SecurityRules {

    private static final Set<String> SAFE = Set.of("GET", "HEAD", "OPTIONS", "TRACE");

    @Bean
    PasswordEncoder passwords() {
        return new BCryptPasswordEncoder();
    }

    /** Accounts are ours; this keeps Spring from making one of its own. */
    @Bean
    UserDetailsService noAccountsElsewhere() {
        return name -> {
            throw new UsernameNotFoundException(name);
        };
    }

    @Bean
    SecurityFilterChain rules(HttpSecurity http, Tokens tokens) throws Exception {
        var csrf = CookieCsrfTokenRepository.withHttpOnlyFalse();
        csrf.setCookieName("gantrel-csrf");
        csrf.setHeaderName("X-Gantrel-CSRF");
        csrf.setCookieCustomizer(cookie -> cookie.sameSite("Strict"));
        return http.authorizeHttpRequests(calls -> calls.requestMatchers(
                                "/api/v1/health",
                                "/api/v1/health/ready",
                                "/api/openapi.json",
                                "/api/definition.schema.json",
                                "/api/v1/sessions",
                                "/error",
                                "/api/v1/calls/*/*",
                                "/api/v1/feeds/*/ics")
                        .permitAll()
                        .requestMatchers("/api/**", "/metrics")
                        .authenticated()
                        .anyRequest()
                        .permitAll())
                .addFilterBefore(new TokenFilter(tokens), CsrfFilter.class)
                .addFilterAfter(new Fairness(), TokenFilter.class)
                .addFilterAfter(new Arrival(), AuthorizationFilter.class)
                // no session of the server's begins with a call, so none is a reason to change the page's token
                .csrf(rule -> rule.csrfTokenRepository(csrf)
                        .sessionAuthenticationStrategy(new NullAuthenticatedSessionStrategy())
                        .csrfTokenRequestHandler(new CsrfTokenRequestAttributeHandler())
                        .requireCsrfProtectionMatcher(SecurityRules::comesWithACookie))
                .sessionManagement(rule -> rule.sessionCreationPolicy(SessionCreationPolicy.STATELESS))
                .requestCache(AbstractHttpConfigurer::disable)
                .formLogin(AbstractHttpConfigurer::disable)
                .httpBasic(AbstractHttpConfigurer::disable)
                .logout(AbstractHttpConfigurer::disable)
                .anonymous(rule -> {})
                .exceptionHandling(
                        rule -> rule.authenticationEntryPoint((request, response, e) -> ProblemWriter.write(
                                        request,
                                        response,
                                        HttpStatus.UNAUTHORIZED,
                                        "Not signed in",
                                        "sign in at /api/v1/sessions, or send a token: Authorization: Bearer ..."))
                                .accessDeniedHandler(
                                        (request, response, e) -> ProblemWriter.write(
                                                request,
                                                response,
                                                HttpStatus.FORBIDDEN,
                                                "Not allowed",
                                                "the console's calls carry the header X-Gantrel-CSRF with the token that /api/v1/me gives")))
                .headers(headers -> headers.contentSecurityPolicy(policy ->
                                policy.policyDirectives("default-src 'none'; frame-ancestors 'none'; base-uri 'none'"))
                        .referrerPolicy(policy -> policy.policy(ReferrerPolicy.NO_REFERRER))
                        .crossOriginOpenerPolicy(policy -> policy.policy(CrossOriginOpenerPolicy.SAME_ORIGIN))
                        .cacheControl(cache -> {}))
                .build();
    }

    /** Only a browser sends a cookie by itself, so only then may a call have been made behind a person's back. */
    private static boolean comesWithACookie(HttpServletRequest request) {
        // other systems' calls prove themselves, and their bodies may be forms, in which a token would be looked for
        return !SAFE.contains(request.getMethod())
                && !request.getRequestURI().startsWith(Fairness.CALLS)
                && TokenFilter.bearer(request).isEmpty()
                && TokenFilter.cookie(request).isPresent();
    }
}
