// Package audit says who asks for something, and writes down who changed what: no change without its row, and no row
// without its change, in the same transaction. A row holds no secret.
package audit
