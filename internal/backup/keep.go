package backup

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"time"
)

// How the files of scheduled backups are named.
const (
	stampLayout = "20060102T150405Z"
	suffix      = ".jsonl.gz"
)

var scheduled = regexp.MustCompile(`^falda-(\d{8}T\d{6}Z)\.jsonl\.gz$`)

// Keeper makes backups by itself.
type Keeper struct {
	DSN    string
	Dir    string
	Every  time.Duration
	Keep   int // of the latest
	Months int // for so many months the first of the month as well
	Log    *slog.Logger
	Done   func(at time.Time, err error) // may be nil
}

// retry is how long after a failure it is tried again.
const retry = 10 * time.Minute

// Run makes a backup whenever the latest in the folder is old enough, until the context ends.
func (k Keeper) Run(ctx context.Context) {
	for {
		wait, err := k.Once(ctx, time.Now())
		if err != nil && ctx.Err() == nil {
			k.Log.Error("scheduled backup failed", "folder", k.Dir, "error", err)
			wait = min(retry, k.Every)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(wait):
		}
	}
}

// Once makes a backup where one is due, removes those that are to be kept no longer, and answers how long until the
// next.
func (k Keeper) Once(ctx context.Context, now time.Time) (time.Duration, error) {
	names, err := k.names()
	if err != nil {
		return 0, err
	}
	if len(names) > 0 {
		if left := k.Every - now.Sub(stampOf(names[len(names)-1])); left > 0 {
			return left, nil
		}
	}
	name := "falda-" + now.UTC().Format(stampLayout) + suffix
	tail, err := File(ctx, k.DSN, filepath.Join(k.Dir, name), now)
	if k.Done != nil {
		k.Done(now, err)
	}
	if err != nil {
		return 0, err
	}
	k.Log.Info("backup made", "file", name, "rows", tail.Total())
	for _, old := range Spent(append(names, name), k.Keep, k.Months) {
		if err := os.Remove(filepath.Join(k.Dir, old)); err != nil {
			return 0, fmt.Errorf("an old backup could not be removed: %w", err)
		}
	}
	return k.Every, nil
}

// names lists the scheduled backups in the folder, oldest first.
func (k Keeper) names() ([]string, error) {
	entries, err := os.ReadDir(k.Dir)
	if err != nil {
		return nil, err
	}
	var out []string
	for _, e := range entries {
		if scheduled.MatchString(e.Name()) {
			out = append(out, e.Name())
		}
	}
	slices.Sort(out)
	return out, nil
}

func stampOf(name string) time.Time {
	t, err := time.Parse(stampLayout, scheduled.FindStringSubmatch(name)[1])
	if err != nil {
		return time.Time{}
	}
	return t
}

// Spent gives, of names sorted oldest first, those that are to be kept no longer: all but the latest keep, and the
// first of each of the latest months.
func Spent(names []string, keep, months int) []string {
	first := map[string]string{} // month → its first backup
	var order []string
	for _, n := range names {
		month := n[len("falda-") : len("falda-")+6]
		if _, known := first[month]; !known {
			first[month] = n
			order = append(order, month)
		}
	}
	kept := map[string]bool{}
	for _, m := range order[max(0, len(order)-months):] {
		kept[first[m]] = true
	}
	for _, n := range names[max(0, len(names)-max(keep, 1)):] {
		kept[n] = true
	}
	return slices.DeleteFunc(slices.Clone(names), func(n string) bool { return kept[n] })
}
