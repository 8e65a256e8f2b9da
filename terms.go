// Package falda carries what must go along with the program: its version, and the terms of what others made of it.
package falda

import (
	_ "embed"
	"runtime/debug"
	"strings"
)

// ThirdParty is THIRD_PARTY.md: each part that ships and was made by others, with its licence.
//
//go:embed THIRD_PARTY.md
var ThirdParty string

//go:embed VERSION
var version string

// Version is the version of the program, such as "0.2.0".
func Version() string { return strings.TrimSpace(version) }

// Build is the version with the state of the sources that it was built from, where that is known: "0.2.0 (1a2b3c4)".
func Build() string {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return Version()
	}
	revision, changed := "", ""
	for _, s := range info.Settings {
		switch s.Key {
		case "vcs.revision":
			revision = s.Value[:min(7, len(s.Value))]
		case "vcs.modified":
			if s.Value == "true" {
				changed = ", changed"
			}
		}
	}
	if revision == "" {
		return Version()
	}
	return Version() + " (" + revision + changed + ")"
}
