// Package device speaks with the machines on the bench. A scale speaks a plain line protocol over TCP on loopback,
// which docs/scale-protocol.md writes down; a simulated stand-in of it ships with the program.
package device
