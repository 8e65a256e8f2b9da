// Package secret makes, keeps and checks what must not be known: passwords, PINs, tokens, codes, and how long one waits
// after wrong ones.
//
// Passwords and PINs are kept as Argon2id hashes (RFC 9106) in the usual text form, so that their cost can be raised
// later; tokens are long enough not to be guessed and are kept as SHA-256. Nothing here is ever logged.
package secret
