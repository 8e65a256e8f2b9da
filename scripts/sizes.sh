#!/bin/sh
# Prints what the first load of the bench costs: the entry, the bench's own script, and all they import at once.
set -eu
cd "$(dirname "$0")/../web/dist"
entry=$(grep -o 'assets/index-[^"]*\.js' index.html | head -n 1)
bench=$(ls assets/BenchView-*.js)
list="$entry $bench"
for f in $entry $bench; do
  list="$list $(grep -oE 'from ?"\./[A-Za-z0-9_.-]+\.js"|import ?"\./[A-Za-z0-9_.-]+\.js"' "$f" | grep -oE '[A-Za-z0-9_.-]+\.js' | sed 's#^#assets/#')"
done
total=0
for f in $(printf '%s\n' $list | sort -u); do
  n=$(gzip -9c "$f" | wc -c)
  total=$((total + n))
  printf '  %7d  %s\n' "$n" "$f"
done
printf 'first load of the bench: %d kB of script, gzipped (aim: at most 250)\n' $((total / 1000))
