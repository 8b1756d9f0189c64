#!/usr/bin/env bash
# Settles a day's ticket sales of a route. The outer isles' terminal loses its line on days that end in 3.
set -eu
while [ $# -gt 0 ]; do
    case $1 in
        --day) day=$2 ;;
        --route) route=$2 ;;
        *) echo "unknown: $1" >&2; exit 2 ;;
    esac
    shift 2
done
echo "collecting the tickets of $route for $day"
sleep 1
seed=$((10#${day##*-} * 37 + ${#route} * 11))
total=0
for sailing in 1 2 3 4 5 6; do
    sold=$(((seed * sailing) % 83 + 12))
    echo "  sailing $sailing: $sold tickets"
    total=$((total + sold))
    echo "%gantrel {\"progress\": $(printf '%d.%02d' $((sailing / 6)) $((sailing * 100 / 6 % 100))), \"text\": \"$sailing of 6 sailings\", \"values\": {\"tickets\": $total}}"
    sleep 0.6
done
if [ "$route" = outer-isles ] && [ "${day: -1}" = 3 ]; then
    echo "card processor refused the login" >&2
    exit 1
fi
mkdir -p out
echo "$day,$route,$total,$((total * 18))" >>out/settled.csv
echo "settled $total tickets"
