#!/usr/bin/env bash
# Holds the payout of a day until somebody has looked at it.
set -eu
mkdir -p out
date -u +%FT%TZ >out/payout-held
echo "the payout is held; delete out/payout-held to let it go"
