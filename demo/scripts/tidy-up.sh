#!/usr/bin/env bash
# Puts away what a night's close left lying about.
set -eu
echo "the night: $1"
rm -f out/*.part
echo "nothing is left lying about"
