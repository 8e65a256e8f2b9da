// Package body is the inside of a piece: what lies where along it. From a few stations of the atlas it gives the
// cross-section at any place, true to the weights of the parts, and from these slices, seams and the profile of each
// muscle. It is pure and the same on every run.
package body
