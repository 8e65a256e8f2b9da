// Package pricing holds what things cost and bring: standing prices, the price book by market, season and day, price
// lists as files and from a feed, and what a week can sell.
//
// Prices that were written are kept as they were; a finished piece keeps those of its day with it. What lacked a price
// is made again once it has one.
package pricing
