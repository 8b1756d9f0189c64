package org.gantrel.service.web;

import jakarta.servlet.http.HttpServletRequest;
import java.nio.file.InvalidPathException;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.http.Invalid;
import org.gantrel.service.http.ProblemView;
import org.gantrel.service.refusal.Refusal;
import org.h2.api.ErrorCode;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.ConcurrencyFailureException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.HttpStatusCode;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.web.ErrorResponse;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.context.request.async.AsyncRequestNotUsableException;
import org.springframework.web.method.annotation.MethodArgumentTypeMismatchException;
import org.springframework.web.util.DisconnectedClientHelper;

/** Turns everything that goes wrong in a call into the one shape of an error. */
@RestControllerAdvice
class Problems {

    private static final Logger LOG = LoggerFactory.getLogger(Problems.class);
    private static final int LONGEST_DETAIL = 500;

    @ExceptionHandler
    ResponseEntity<ProblemView> refusal(Refusal refusal, HttpServletRequest request) {
        var answer = answer(refusal.status(), refusal.title(), refusal.getMessage(), request, null);
        return refusal.again()
                .map(seconds -> ResponseEntity.status(answer.getStatusCode())
                        .headers(answer.getHeaders())
                        .header(HttpHeaders.RETRY_AFTER, String.valueOf(seconds))
                        .body(answer.getBody()))
                .orElse(answer);
    }

    @ExceptionHandler
    ResponseEntity<ProblemView> invalid(InvalidException exception, HttpServletRequest request) {
        return invalid(Invalid.of(exception), request);
    }

    @ExceptionHandler
    ResponseEntity<ProblemView> invalid(Invalid invalid, HttpServletRequest request) {
        String detail = invalid.problems().stream()
                .map(wrong -> (wrong.field().isEmpty() ? "" : wrong.field() + ": ") + wrong.message())
                .collect(Collectors.joining("; "));
        return answer(HttpStatus.UNPROCESSABLE_CONTENT, "Not right as it is", detail, request, invalid.problems());
    }

    @ExceptionHandler
    ResponseEntity<ProblemView> unreadable(HttpMessageNotReadableException exception, HttpServletRequest request) {
        return answer(
                HttpStatus.BAD_REQUEST,
                "Body not understood",
                "the body of this call is to be JSON as described at /api/openapi.json: "
                        + Unreadable.why(exception.getMostSpecificCause()),
                request,
                null);
    }

    @ExceptionHandler
    ResponseEntity<ProblemView> mismatch(MethodArgumentTypeMismatchException exception, HttpServletRequest request) {
        Class<?> wanted = exception.getRequiredType();
        return answer(
                HttpStatus.BAD_REQUEST,
                "Parameter not understood",
                exception.getName() + ": '" + exception.getValue() + "' is " + isNot(wanted),
                request,
                null);
    }

    private static String isNot(Class<?> wanted) {
        if (wanted == null) {
            return "no such value";
        }
        if (wanted == boolean.class || wanted == Boolean.class) {
            return "neither true nor false";
        }
        if (wanted.isPrimitive() || Number.class.isAssignableFrom(wanted)) {
            return "no whole number in its range";
        }
        return wanted == Instant.class
                ? "no instant such as 2026-11-23T06:00:00Z"
                : "no " + wanted.getSimpleName().toLowerCase(Locale.ROOT);
    }

    @ExceptionHandler
    void gone(AsyncRequestNotUsableException exception) {
        LOG.debug("a reader of a stream went away", exception);
    }

    @ExceptionHandler
    ResponseEntity<ProblemView> impossible(ExpressionException exception, HttpServletRequest request) {
        return answer(HttpStatus.UNPROCESSABLE_CONTENT, "Not right as it is", exception.getMessage(), request, null);
    }

    @ExceptionHandler
    ResponseEntity<ProblemView> path(InvalidPathException exception, HttpServletRequest request) {
        return answer(
                HttpStatus.BAD_REQUEST, "Not understood", "'" + exception.getInput() + "' is no path", request, null);
    }

    @ExceptionHandler
    ResponseEntity<ProblemView> other(Throwable exception, HttpServletRequest request) {
        if (exception instanceof ErrorResponse known) {
            HttpStatusCode status = known.getStatusCode();
            return answer(
                    status,
                    String.valueOf(known.getBody().getTitle()),
                    known.getBody().getDetail() == null ? "" : known.getBody().getDetail(),
                    request,
                    null);
        }
        if (DisconnectedClientHelper.isClientDisconnectedException(exception)) {
            LOG.debug("whoever called went away", exception);
            return null;
        }
        if (hasLostItsDatabase(exception)) {
            LOG.warn("{} {} came while the database is closed", request.getMethod(), request.getRequestURI());
            return answer(
                    HttpStatus.SERVICE_UNAVAILABLE,
                    "Away for a moment",
                    "the service's database is closed: it stops, or its disk was full and it begins again by itself;"
                            + " try once more in a moment",
                    request,
                    null);
        }
        if (isChangedByTwo(exception)) {
            LOG.info(
                    "{} {} came with another: {}",
                    request.getMethod(),
                    request.getRequestURI(),
                    exception.getMessage());
            return answer(
                    HttpStatus.CONFLICT,
                    "Conflict",
                    "somebody else has changed the same at the same moment; nothing was changed by this call, try it once"
                            + " more",
                    request,
                    null);
        }
        LOG.error("{} {} failed", request.getMethod(), request.getRequestURI(), exception);
        return answer(
                HttpStatus.INTERNAL_SERVER_ERROR,
                "A fault of the service",
                "the service's own log says more; nothing was changed",
                request,
                null);
    }

    /** Whoever comes second finds the record locked or newer, or the name taken. */
    private static boolean isChangedByTwo(Throwable exception) {
        for (Throwable each = exception; each != null; each = each.getCause()) {
            if (each instanceof ConcurrencyFailureException
                    || each instanceof SQLException sql && sql.getErrorCode() == ErrorCode.DUPLICATE_KEY_1) {
                return true;
            }
        }
        return false;
    }

    /** A database whose disk is full closes itself, some moments before the service notices. */
    private static boolean hasLostItsDatabase(Throwable exception) {
        for (Throwable each = exception; each != null; each = each.getCause()) {
            if (each instanceof SQLException sql && sql.getErrorCode() == ErrorCode.DATABASE_IS_CLOSED) {
                return true;
            }
        }
        return false;
    }

    private static ResponseEntity<ProblemView> answer(
            HttpStatusCode status,
            String title,
            String detail,
            HttpServletRequest request,
            List<ProblemView.Wrong> problems) {
        String brief = detail.length() <= LONGEST_DETAIL ? detail : detail.substring(0, LONGEST_DETAIL) + "...";
        var builder = ResponseEntity.status(status).contentType(MediaType.APPLICATION_PROBLEM_JSON);
        return builder.body(
                new ProblemView("about:blank", title, status.value(), brief, request.getRequestURI(), problems));
    }
}
