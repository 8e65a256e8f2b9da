// Package portion lays cuts along a muscle or a block so that they bring the most: portions of products within their
// weights, thicknesses and zones, rests, and what a saw takes. It is exact: whole millimetres, values as whole numbers
// of one common part of a cent, a dynamic programme over every cut there is. It knows nothing of the atlas.
package portion
