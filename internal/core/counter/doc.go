// Package counter lays out what is sold over a counter: which products get a tray, how wide, beside what. It is pure.
//
// The rules are those of the trade (common practice, no source): like faces stand together; something bony stands
// beside something meaty; half of a stack is turned; a small thing is laid out only when there is a tray's worth of it;
// what sells most, and brings most, gets the room first.
package counter
