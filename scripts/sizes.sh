#!/bin/sh
# Prints what the first load of a view costs: the entry, the view's own script, and all that they import at once.
set -eu
cd "$(dirname "$0")/../web/dist"
entry="$(grep -o 'assets/index-[^"]*\.js' index.html | head -n 1) $(ls assets/start-*.js)"

# Everything that a file imports at once, and what that imports.
imports() {
  seen="$1"
  todo="$1"
  while [ -n "$todo" ]; do
    next=""
    for f in $todo; do
      for g in $(grep -oE '(from|import) ?"\./[A-Za-z0-9_.-]+\.js"' "$f" | grep -oE '[A-Za-z0-9_.-]+\.js' |
        sed 's#^#assets/#'); do
        case " $seen " in *" $g "*) ;; *) seen="$seen $g"; next="$next $g" ;; esac
      done
    done
    todo="$next"
  done
  printf '%s\n' $seen
}

# Name, file, aim in kB.
first_load() {
  total=0
  for f in $({ for e in $entry; do imports "$e"; done; imports "$(ls assets/"$2"-*.js)"; } | sort -u); do
    total=$((total + $(gzip -9c "$f" | wc -c)))
  done
  printf 'first load of %-10s %4d kB of script, gzipped (aim: at most %d)\n' "$1:" $((total / 1000)) "$3"
}
first_load "the bench" BenchView 150
first_load "the rail" RailView 150
first_load "the desk" DeskView 200
block=$(gzip -9c assets/blockScene-*.js | wc -c)
printf 'the block in space, where it is shown: %4d kB of script, gzipped (aim: at most %d)\n' $((block / 1000)) 160
