#!/usr/bin/env bash
# Adds up engine hours and says which engines are due.
set -eu
awk -F, 'NR > 1 { printf "%s: %d hours%s\n", $1, $2, $2 > 900 ? ", due for service" : "" }' engines.csv
sleep 3
