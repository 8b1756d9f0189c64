#!/usr/bin/env bash
# Books the day's card payments.
set -eu
for batch in 1 2 3; do
    echo "booking batch $batch of $1"
    sleep 0.6
done
