package api

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/people"
)

// problems turns any error into problem+json.
func problems(log *slog.Logger) echo.HTTPErrorHandler {
	return func(c *echo.Context, err error) {
		if resp, uErr := echo.UnwrapResponse(c.Response()); uErr == nil && resp.Committed {
			return
		}
		p := problemOf(err)
		if p.Status >= 500 && !errors.Is(err, context.Canceled) {
			log.Error("request failed", "method", c.Request().Method, "path", c.Request().URL.Path, "status", p.Status,
				"request", c.Response().Header().Get("X-Request-Id"), "error", err)
		}
		var tooMany people.TooMany
		switch {
		case errors.As(err, &tooMany):
			c.Response().Header().Set("Retry-After", strconv.Itoa(seconds(tooMany.Wait)))
		case p.Status == http.StatusServiceUnavailable:
			c.Response().Header().Set("Retry-After", "1")
		case p.Status == http.StatusUnauthorized:
			c.Response().Header().Set("WWW-Authenticate", "Bearer")
		}
		body, mErr := json.Marshal(p)
		if mErr != nil {
			body = []byte(`{"type":"about:blank","title":"Something went wrong","status":500}`)
		}
		if wErr := c.Blob(p.Status, "application/problem+json", body); wErr != nil {
			log.Debug("the answer did not reach the caller", "error", wErr)
		}
	}
}

func problemOf(err error) contract.Problem {
	var bad *malformed
	var tooLarge *http.MaxBytesError
	var tooMany people.TooMany
	status := echo.StatusCode(err)
	switch faults := fault.Of(err); {
	case faults != nil:
		return faultProblem(faults)
	case errors.Is(err, errNobody), errors.Is(err, audit.ErrNobody):
		return problem(http.StatusUnauthorized, "Nobody is signed in", "Sign in; what waits here is kept.")
	case errors.Is(err, errForbidden):
		return problem(http.StatusForbidden, "Not for this role",
			"Somebody with more rights in this shop can do it; an owner can give you another role.")
	case errors.As(err, &tooMany):
		return problem(http.StatusTooManyRequests, tooManyOf[tooMany.Why],
			"Wait "+secondsText(tooMany.Wait)+", then try again.")
	case errors.Is(err, context.DeadlineExceeded):
		return problem(http.StatusServiceUnavailable, "It took too long",
			"What was confirmed is safe. Try again in a moment.")
	case errors.As(err, &tooLarge), status == http.StatusRequestEntityTooLarge:
		return problem(http.StatusRequestEntityTooLarge, "The request is too large",
			"Send at most 256 KiB at once, a file at most 2 MiB.")
	case errors.As(err, &bad):
		return jsonProblem(bad)
	case errors.Is(err, store.ErrNotFound):
		return problem(http.StatusNotFound, "Not found",
			"There is nothing here by that name. Go back to the rail and open it from there.")
	case errors.Is(err, store.ErrConflict):
		return problem(http.StatusConflict, "Changed in the meantime",
			"Somebody else changed this since you opened it. Nothing of yours was saved; load it again and repeat your change.")
	case errors.Is(err, store.ErrDuplicate):
		return problem(http.StatusConflict, "That is there already",
			"Something else has the same name or number. Change yours, or use what is there.")
	case errors.Is(err, store.ErrBehind):
		return problem(http.StatusServiceUnavailable, "Others are booking on it",
			"What was confirmed is safe. Send it again in a moment; its id keeps it from counting twice.")
	case errors.Is(err, store.ErrFull):
		return problem(http.StatusServiceUnavailable, "The disk of the database is full",
			"What was confirmed is safe; this was not saved. Whoever looks after Falda has to make room; then send it again.")
	case errors.Is(err, store.ErrUnavailable):
		return problem(http.StatusServiceUnavailable, "The database does not answer",
			"What was confirmed is safe. Try again in a moment.")
	case errors.Is(err, device.ErrScale):
		return problem(http.StatusConflict, "The scale did not do it",
			strings.TrimPrefix(err.Error(), device.ErrScale.Error()+": "))
	case status == http.StatusNotFound:
		return problem(status, "Not found", "There is no such address.")
	case status == http.StatusUnsupportedMediaType:
		return problem(status, "Not JSON", "Send the body as application/json.")
	case status >= 400 && status < 500:
		return problem(status, http.StatusText(status), err.Error())
	default:
		return problem(http.StatusInternalServerError, "Something went wrong",
			"What was confirmed before is safe. Try again; if it stays so, tell whoever looks after Falda the request's id.")
	}
}

// tooManyOf says what there were too many of.
var tooManyOf = map[string]string{"": "Too many tries", "requests": "Too many requests",
	"streams": "Too many open streams"}

func secondsText(d time.Duration) string {
	if n := seconds(d); n != 1 {
		return strconv.Itoa(n) + " seconds"
	}
	return "1 second"
}

func seconds(d time.Duration) int { return int((d + time.Second - 1) / time.Second) }

func problem(status int, title, detail string) contract.Problem {
	return contract.Problem{Type: "about:blank", Title: title, Status: status, Detail: some(detail)}
}

func fieldError(f fault.Fault) contract.FieldError {
	return contract.FieldError{Field: f.Field, Code: f.Code, Message: f.Message, Hint: some(f.Hint)}
}

func faultProblem(faults fault.List) contract.Problem {
	p := problem(http.StatusUnprocessableEntity, "Some of this cannot be right", "")
	errs := each(faults, fieldError)
	switch faults.Kind() {
	case fault.Conflict:
		p.Status, p.Title = http.StatusConflict, "This does not fit how things stand"
	case fault.NotFound:
		p.Status, p.Title = http.StatusNotFound, "Not found"
	case fault.Unavailable:
		p.Status, p.Title = http.StatusServiceUnavailable, "Not just now"
	}
	p.Errors = &errs
	if first := faults[0]; first.Field == "" {
		p.Detail = some(strings.TrimSpace(first.Message + " " + first.Hint))
	} else {
		p.Detail = some(strings.TrimSpace(first.Error() + ". " + first.Hint))
	}
	return p
}

// jsonProblem says what is wrong with the JSON and, where it can be told, with which field.
func jsonProblem(bad *malformed) contract.Problem {
	p := problem(http.StatusBadRequest, "The body is not the JSON it should be", bad.Error())
	var wrongType *json.UnmarshalTypeError
	field, message := "", ""
	switch {
	case errors.Is(bad, io.EOF):
		p.Detail = some("The body is empty.")
	case errors.As(bad, &wrongType):
		field, message = wrongType.Field,
			"is a "+wrongType.Value+" and should be a "+plainType(wrongType.Type.Kind().String())
	default:
		if name, found := strings.CutPrefix(bad.Error(), "json: unknown field "); found {
			field, message = strings.Trim(name, `"`), "is not a field of this request"
		}
	}
	if field != "" {
		p.Detail = some(field + " " + message + ".")
		p.Errors = &[]contract.FieldError{{Field: field, Code: "wrong_type", Message: message,
			Hint: some("See /api/v1/openapi.yaml.")}}
	}
	return p
}

func plainType(kind string) string {
	switch {
	case strings.HasPrefix(kind, "float"):
		return "number"
	case strings.HasPrefix(kind, "int"):
		return "whole number"
	case kind == "slice":
		return "list"
	case kind == "struct" || kind == "map":
		return "object"
	}
	return kind
}
