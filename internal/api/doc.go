// Package api is Falda's HTTP interface: it decodes, calls work, and encodes, after the contract in api/openapi.yaml,
// from which the package contract beside it is generated. No rule of the job lives here. Errors are problem+json
// (RFC 9457) and name the field.
package api
