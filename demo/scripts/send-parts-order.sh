#!/usr/bin/env bash
# Sends an order of parts. What it prints of its key is covered in the log.
set -eu
echo "signing in at the order desk with $SUPPLIER_KEY"
sleep 2
echo "sent the order '$1'"
