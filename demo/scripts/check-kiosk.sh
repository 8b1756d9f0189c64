#!/usr/bin/env bash
# Asks a terminal's kiosk service whether it sells tickets.
set -eu
terminal=$1
echo "asking the kiosk at $terminal"
exec 3<>"/dev/tcp/127.0.0.1/$KIOSK_PORT" || { echo "the kiosk service does not answer" >&2; exit 1; }
printf 'GET /kiosks/%s HTTP/1.0\r\nHost: kiosk.example.org\r\n\r\n' "$terminal" >&3
read -r _ status _ <&3
echo "status $status"
if [ "$status" != 200 ]; then
    echo "$terminal: expected status 200, got $status" >&2
    exit 1
fi
