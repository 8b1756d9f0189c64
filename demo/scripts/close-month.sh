#!/usr/bin/env bash
# Closes the books of a month.
set -eu
month=${1:-}
[ -n "$month" ] || month="the last month"
for ledger in sales fuel wages harbour-dues; do
    echo "closing $ledger for $month"
    sleep 2
done
echo "closed"
