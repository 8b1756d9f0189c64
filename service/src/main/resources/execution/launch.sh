#!/bin/sh
# Runs a command so that it outlives the service: its output goes to a file, and so does its exit code.
# usage: launch.sh FOLDER PROGRAM [ARGUMENT...]
# environment, none of which reaches the command: GANTREL_MASK, what is covered in the output, a line each;
# GANTREL_ERRORS, not empty to keep the error stream in a file of its own as well; GANTREL_INPUT, what the command reads;
# GANTREL_OWN, shell text that sets the command's environment, where it runs as the account that runs this
folder=$1
shift
covered=$GANTREL_MASK
errors=$GANTREL_ERRORS
input=$GANTREL_INPUT
own=$GANTREL_OWN
unset GANTREL_MASK GANTREL_ERRORS GANTREL_INPUT GANTREL_OWN

# The shell's own process number, and when it started, by which a restarted service finds it again.
read -r stat <"/proc/$$/stat" || stat=''
start_of() { started=${20:-unknown}; }
# shellcheck disable=SC2086
start_of ${stat##*) }
mark="$$ $started"

# A start that was recorded is made once: whoever makes this file starts the command, nobody else does. It says who.
# Done by this very shell, like all that can be: a process costs more than all else here.
set -C
echo "$mark" 2>/dev/null >"$folder/claim" || exit 75
set +C

# A signal to the whole group ends the command; this shell stays to write down how. The mark is left by the command's own
# process just before it becomes the command: whoever can read the mark can end what it stands for.
trap : TERM INT HUP
become() {
    trap - TERM INT HUP
    # where memory runs out, a job goes before the service does (proc_pid_oom_score_adj(5))
    { echo 300 >/proc/self/oom_score_adj; } 2>/dev/null
    echo "$mark" >"$folder/process"
    if [ -n "$input" ]; then
        enter "$@" <<INPUT
$input
INPUT
    else
        enter "$@" </dev/null
    fi
}
# The environment comes last: its names may be those of this script's own.
enter() {
    eval "$own"
    exec "$@"
}
# Covers secrets line by line before they reach the disk. The words come by the environment: arguments can be seen by all.
# Both streams go to one log, so a line and its end are one write. usage: cover [FILE-THAT-KEEPS-IT-AS-WELL]
cover() {
    trap '' TERM INT HUP
    if [ -z "$covered" ]; then
        exec tee -a ${1:+"$1"}
    fi
    interactive=
    case $(readlink -f "$(which awk)") in *mawk*) interactive='-W interactive' ;; esac
    # shellcheck disable=SC2086
    COVERED=$covered KEPT=${1:-} exec awk $interactive '
        BEGIN { words = split(ENVIRON["COVERED"], word, "\n"); kept = ENVIRON["KEPT"] }
        {
            line = $0
            for (i = 1; i <= words; i++) {
                if (word[i] == "") continue
                done = ""
                while ((at = index(line, word[i])) > 0) {
                    done = done substr(line, 1, at - 1) "••••••"
                    line = substr(line, at + length(word[i]))
                }
                line = done line
            }
            line = line "\n"
            printf "%s", line
            fflush()
            if (kept != "") {
                printf "%s", line >>kept
                fflush(kept)
            }
        }'
}
# The exit code is written before the last of the output is waited for: what the command left behind may hold that open.
if [ -n "$covered$errors" ]; then
    mkfifo -m 600 "$folder/out" "$folder/err"
    (cover <"$folder/out" >>"$folder/log") &
    (cover "$folder/errors" <"$folder/err" >>"$folder/log") &
    (become "$@") >"$folder/out" 2>"$folder/err"
    code=$?
    echo "$code" >"$folder/exit"
    wait
    rm -f "$folder/out" "$folder/err"
else
    (become "$@") >>"$folder/log" 2>&1
    code=$?
    echo "$code" >"$folder/exit"
fi
exit "$code"
