#!/usr/bin/env bash
# Proposes an order of parts for the dry-dock weeks.
set -eu
echo "reading the supplier's list"
sleep 2
for part in "shaft seal" "anode set" "impeller"; do
    echo "propose: $part$([ "$1" = yes ] && echo ', by courier')"
    sleep 1
done
