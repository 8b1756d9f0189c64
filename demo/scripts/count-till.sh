#!/usr/bin/env bash
# Counts the till of a kiosk.
set -eu
echo "the kiosk $1 sold $2 tickets"
