#!/usr/bin/env bash
# Pays a day's takings out, unless the payout is held.
set -eu
day=$1 crowns=$2
[ ! -e out/payout-held ] || { echo "the payout is held"; exit 1; }
for agent in skarholm outer-isles sound; do
    echo "paying the agent of $agent for $day"
    sleep 0.7
done
echo "paid out $crowns crowns"
