#!/usr/bin/env bash
# Writes to commuters whose season pass ends within so many days.
set -eu
within=${1%.*}
mkdir -p out/reminders
n=0
while IFS=, read -r name days; do
    [ "$days" -le "$within" ] || continue
    echo "Dear $name, your season pass ends in $days days." >"out/reminders/$name.txt"
    echo "written to $name ($days days left)"
    n=$((n + 1))
    sleep 0.4
done < <(tail -n +2 passes.csv)
echo "$n reminders"
