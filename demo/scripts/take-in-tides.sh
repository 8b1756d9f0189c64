#!/usr/bin/env bash
# Takes a tide table in.
set -eu
echo "taking in $1"
[ -f "incoming/$1" ] || { echo "it is not there any more; nothing to do"; exit 0; }
printf '%s harbours\n' "$(($(wc -l <"incoming/$1") - 1))"
