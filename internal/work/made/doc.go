// Package made is what a shop makes of its trim and of what else it adds: its recipes, what the tubs should become, and
// the making itself, booked by scale like a breakdown: what went in, what came out, what was lost, and why where that
// is more than usual. What is made lies in stock from then on, under a lot number that leads back to the pieces.
package made
