// Package backup writes the whole database into one file while it is in use, and puts such a file back.
//
// The file is gzip (RFC 1952) of JSON lines, so that it can be read without Falda: a heading with the version of the
// format and of the schema, for each table its columns and its rows as arrays of texts or null, and a last line with
// the number of rows of each table and the SHA-256 of all that stands before it. Everything is read in one snapshot.
// Sign-ins, one-time links and failed attempts are not in it: who was signed out stays so.
package backup
