#!/usr/bin/env bash
# Packs a day's passenger manifests.
set -eu
mkdir -p "manifests/$1" archive
for sailing in $(seq 1 12); do
    echo "sailing $sailing of $1" >"manifests/$1/$sailing.txt"
    echo "packed manifest $sailing"
    sleep 0.5
done
tar -czf "archive/$1.tar.gz" -C manifests "$1"
echo "archive/$1.tar.gz holds $(tar -tzf "archive/$1.tar.gz" | grep -c txt) manifests"
