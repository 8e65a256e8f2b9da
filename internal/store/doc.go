// Package store keeps Falda's records in MariaDB through GORM: records, queries and SQL migrations. It knows core types
// and no HTTP. Every root row carries shop_id and every query goes through it. The log of events is only ever added to;
// the read tables beside it are written in the same transaction. Masses are whole milligrams, money is DECIMAL as text,
// times are UTC to the microsecond.
package store
