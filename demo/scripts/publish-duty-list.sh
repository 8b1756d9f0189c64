#!/usr/bin/env bash
# Publishes who is on duty on which vessel.
set -eu
mkdir -p out
awk -F, 'NR > 1 { printf "%s\t%s\n", $2, $1 }' crew.csv | sort >out/duty-list.txt
while IFS=$'\t' read -r vessel person; do
    echo "$vessel: $person"
    sleep 0.5
done <out/duty-list.txt
echo "published $(wc -l <out/duty-list.txt) lines"
