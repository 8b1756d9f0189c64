#!/usr/bin/env bash
# Hands season passes to the card processor, which breaks off the first try of every other day.
set -eu
echo "handing 612 season passes to the card processor"
for batch in 1 2 3 4 5 6 7 8 9 10; do
    sleep 2
    echo "  batch $batch: 61 passes"
    echo "%gantrel {\"progress\": $((batch / 10)).$((batch % 10)), \"text\": \"$batch of 10 batches\", \"values\": {\"passes\": $((batch * 61))}}"
    if [ "$batch" = 4 ] && [ "${GANTREL_TRY:-1}" = 1 ] && [ $((10#$(date +%d) % 2)) = 0 ]; then
        echo "card processor closed the connection" >&2
        exit 1
    fi
done
echo "done"
