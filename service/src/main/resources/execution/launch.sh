#!/bin/sh
# Runs a command so that it outlives the service: its output goes to a file, and so does its exit code.
# usage: launch.sh FOLDER PROGRAM [ARGUMENT...]
folder=$1
shift

# A start that was recorded is made once: whoever makes this folder starts the command, nobody else does.
mkdir "$folder/claim" 2>/dev/null || exit 75

# The shell's own process number, and when it started, by which a restarted service finds it again.
start_mark() {
    read -r stat <"/proc/$$/stat" || stat=''
    set -- ${stat##*) }
    echo "${20:-unknown}"
}
# A signal to the whole group ends the command; this shell stays to write down how. The mark is left by the command's own
# process just before it becomes the command: whoever can read the mark can end what it stands for.
trap : TERM INT HUP
mark="$$ $(start_mark)"
(
    trap - TERM INT HUP
    echo "$mark" >"$folder/process.new" && mv "$folder/process.new" "$folder/process"
    exec "$@"
) >>"$folder/log" 2>&1 </dev/null
code=$?
echo "$code" >"$folder/exit.new" && mv "$folder/exit.new" "$folder/exit"
exit "$code"
