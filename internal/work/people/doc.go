// Package people lets people in: accounts, members of a shop with their roles, sign-in by password and by PIN, screens
// at benches, tokens of scripts, and how a first shop is set up.
//
// Attempts are counted before a secret is looked at, and a secret is kept only as a digest. What ends somebody's right
// ends their sessions in the same transaction; this program forgets at once whom it knew.
package people
