// Package api holds the contract of Falda's HTTP interface.
package api

import _ "embed"

// Contract is openapi.yaml as it is served.
//
//go:embed openapi.yaml
var Contract []byte
