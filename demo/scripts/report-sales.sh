#!/usr/bin/env bash
# Adds up a day's sales over all routes.
set -eu
echo "sales of $1"
[ -f out/settled.csv ] || { echo "nothing was settled yet"; exit 0; }
awk -F, -v day="$1" '$1 == day { n += $3; sum += $4 } END { printf "%d tickets, %d crowns\n", n, sum }' out/settled.csv
sleep 2
