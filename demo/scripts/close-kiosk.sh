#!/usr/bin/env bash
# The kiosk at Skarholm closes its till: it calls the ticket office, as a kiosk of the real world would from outside.
set -eu
tickets=$((20 + RANDOM % 30))
echo "the till says $tickets tickets"
curl --silent --show-error --fail --max-time 10 -X POST "$1" \
    -H "Authorization: Bearer $TILL_TOKEN" -H 'Content-Type: application/json' \
    -H "Idempotency-Key: skarholm-$GANTREL_RUN" \
    -d "{\"kiosk\": \"skarholm\", \"tickets\": $tickets}"
echo
