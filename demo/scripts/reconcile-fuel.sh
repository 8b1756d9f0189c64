#!/usr/bin/env bash
# Compares vessels' fuel meters with the bunker notes. Exits 3 where a difference is small, 1 where it is large.
set -eu
worst=0
while IFS=, read -r vessel meter noted; do
    difference=$((meter - noted))
    difference=${difference#-}
    echo "$vessel: meter $meter, notes $noted, difference $difference"
    [ "$difference" -gt "$worst" ] && worst=$difference
    sleep 1.2
done < <(tail -n +2 fuel.csv)
[ "$worst" -le 100 ] || { echo "a difference of $worst litres is too much" >&2; exit 1; }
[ "$worst" -le 25 ] || { echo "a difference of $worst litres; have a look"; exit 3; }
echo "all meters agree"
