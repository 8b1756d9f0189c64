#!/usr/bin/env bash
# Builds a day's sailings from the tide tables: one for each high water, two in summer.
set -eu
day=$1 season=$2
mkdir -p out
list=out/sailings-$day.csv
echo "building the $season sailings of $day"
echo "day,from,departs,vessel" >"$list"
each=1
[ "$season" = summer ] && each=2
for table in tides/*.csv; do
    harbour=$(basename "$table" .csv)
    tail -n +2 "$table" | while IFS=, read -r _ high; do
        for n in $(seq "$each"); do echo "$day,$harbour,$high,vessel-$n" >>"$list"; done
    done
    echo "placed the sailings from $harbour"
    sleep 2
done
echo "$(($(wc -l <"$list") - 1)) sailings in $list"
