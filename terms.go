// Package falda carries what must go along with the program: the terms of what others made of it.
package falda

import _ "embed"

// ThirdParty is THIRD_PARTY.md: each part that ships and was made by others, with its licence.
//
//go:embed THIRD_PARTY.md
var ThirdParty string
