package store

import "github.com/google/uuid"

// NewID makes a public id: a UUID of version 7, so that ids that are made later sort later.
func NewID() string { return uuid.Must(uuid.NewV7()).String() }
