// Package learn is the trainer: drills and when they come back, pieces that are cut to learn and what was said of them,
// curves of learning, and what the house notes of its steps. What somebody learns is theirs: others see it only as
// their role allows.
package learn
