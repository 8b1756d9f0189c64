#!/usr/bin/env bash
# Deletes printed boarding cards after their time.
set -eu
mkdir -p cards
find cards -type f -mtime +30 -print -delete | wc -l | sed 's/$/ boarding cards deleted/'
