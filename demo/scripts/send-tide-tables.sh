#!/usr/bin/env bash
# The tide office: writes a table beside the folder where tables arrive, and moves it in when it is whole.
set -eu
mkdir -p incoming
name="tides-$(date -u +%Y%m%dT%H%M%S).csv"
{
    echo "harbour,high"
    for harbour in mainland skarholm sound; do echo "$harbour,$(date -u +%H:%M)"; done
} >"$name.part"
mv "$name.part" "incoming/$name"
echo "sent $name"
# only the last days are kept
find incoming -name 'tides-*.csv' -mmin +4320 -delete
