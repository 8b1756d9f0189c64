# Shared by the scripts beside it; sourced, not run.
# shellcheck shell=bash

root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
built=$root/.gantrel-build

say() { printf '%s\n' "$*" >&2; }

die() {
    say "$*"
    exit "${status:-1}"
}

have() { command -v "$1" >/dev/null 2>&1; }

java_major() { "$1" -version 2>&1 | sed -n 's/.* version "\([0-9]*\).*/\1/p' | head -n 1; }

# A JDK of 17 or later: JAVA_HOME where that is one, or else the first on the path or under /usr/lib/jvm.
find_java() {
    local home candidates=("${JAVA_HOME:-}")
    have javac && candidates+=("$(dirname "$(dirname "$(readlink -f "$(command -v javac)")")")")
    candidates+=(/usr/lib/jvm/*)
    for home in "${candidates[@]}"; do
        if [ -n "$home" ] && [ -x "$home/bin/javac" ] && [ "$(java_major "$home/bin/java")" -ge 17 ] 2>/dev/null; then
            export JAVA_HOME=$home
            return 0
        fi
    done
    return 1
}

# The program that runs built classes; a runtime is enough for that.
java_program() {
    if [ -n "${JAVA_HOME:-}" ] && [ -x "$JAVA_HOME/bin/java" ]; then
        printf '%s\n' "$JAVA_HOME/bin/java"
    else
        command -v java || die "gantrel: Java 17 or later is needed; on Debian: apt-get install openjdk-17-jre-headless"
    fi
}

# Installs Debian packages where that is possible, and says what is missing where it is not.
need_packages() {
    [ $# -eq 0 ] && return 0
    if have apt-get && [ "$(id -u)" = 0 ]; then
        say "installing $*"
        apt-get install -y --no-install-recommends "$@" >/dev/null 2>&1 ||
            { apt-get update >/dev/null && apt-get install -y --no-install-recommends "$@" >/dev/null; } ||
            die "could not install: $*"
    else
        die "these are missing: $*
On Debian or Ubuntu: sudo apt-get install $*"
    fi
}

# Java takes names of files, arguments and what it prints for text of the locale's character set, and where that is ASCII -
# on a host with no locale set - writes question marks for all else. What stood there before is kept for the jobs.
speak_utf8() {
    local each
    case $(locale charmap 2>/dev/null) in ANSI_X3.4-1968 | US-ASCII | ASCII | 646 | '') ;; *) return 0 ;; esac
    for each in C.UTF-8 en_US.UTF-8; do
        if [ "$(LC_ALL=$each locale charmap 2>/dev/null || echo UTF-8)" = UTF-8 ]; then
            export GANTREL_LC_ALL="${LC_ALL-}" LC_ALL=$each
            return 0
        fi
    done
}

# Installs Debian packages where that is possible; what needs them is left out where it is not.
wish_packages() {
    if have apt-get && [ "$(id -u)" = 0 ]; then
        (need_packages "$@") || say "going on without $*"
    else
        say "tests with $* are left out: it is not installed"
    fi
}

find_tools() {
    local missing=()
    find_java || missing+=(openjdk-17-jdk-headless)
    have mvn || missing+=(maven)
    have node || missing+=(nodejs)
    have npm || missing+=(npm)
    have curl || missing+=(curl)
    need_packages "${missing[@]+"${missing[@]}"}"
    find_java || die "no JDK of 17 or later was found; JAVA_HOME may name one"
    node -e 'const [a, b] = process.versions.node.split(".").map(Number)
        process.exit(a > 22 || (a === 22 && b >= 12) || (a === 20 && b >= 19) ? 0 : 1)' ||
        die "Node.js 20.19, or 22.12 or later, is needed to build the console; here is $(node --version)"
}

# A fingerprint of files: the same files with the same contents give the same one.
fingerprint() {
    (cd "$root" && find "$@" -type f \
        -not -path '*/node_modules/*' -not -path '*/target/*' -not -path '*/dist/*' -not -name schema.d.ts \
        -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)
}

# Runs a step unless nothing it is made from has changed since it last went well.
# usage: step NAME FINGERPRINT FUNCTION
step() {
    local mark=$built/$1
    if [ -f "$mark" ] && [ "$(cat "$mark")" = "$2" ]; then
        return 0
    fi
    say "building: $1"
    mkdir -p "$built"
    "$3" >"$built/$1.log" 2>&1 || { tail -n 40 "$built/$1.log" >&2; die "building $1 failed; all of it is in $built/$1.log"; }
    printf '%s\n' "$2" >"$mark"
}

build_console() {
    (cd "$root/console" && npm ci --no-audit --no-fund && (cd types && npm ci --no-audit --no-fund && npm run generate) &&
        npm run build)
}

build_java() {
    # a library that is no longer named would stay on the class path
    rm -rf "$root"/{client,service,demo}/target/lib
    (cd "$root" && mvn -B -q package -Dmaven.test.skip=true -pl core,icalendar,client,service,demo) || return 1
    local client
    share_client_classes &
    client=$!
    share_service_classes
    wait "$client"
}

# What has no need of the console's files.
build_parts() {
    (cd "$root" && mvn -B -q compile -pl core,icalendar,client,demo)
}

# The client is started for every command, so what its classes look like in memory is kept from one start to the next.
# A whole archive, not one on top of the JDK's: only such a one takes classes as old as the command line's library.
share_client_classes() {
    local java classpath archive=$root/client/target/gantrel-client.jsa
    java=$(java_program)
    classpath=$(client_classpath)
    rm -f "$archive"
    "$java" -XX:DumpLoadedClassList="$archive.list" -XX:+UseSerialGC -XX:TieredStopAtLevel=1 \
        -cp "$classpath" org.gantrel.client.ShareClasses >/dev/null 2>&1 || true
    "$java" -Xshare:dump -XX:SharedClassListFile="$archive.list" -XX:SharedArchiveFile="$archive" -XX:+UseSerialGC \
        -cp "$classpath" >/dev/null 2>&1 || true
}

client_classpath() { printf '%s' "$root/client/target/gantrel-client.jar:$root/client/target/lib/*"; }

service_classpath() { printf '%s' "$root/service/target/gantrel-service.jar:$root/service/target/lib/*"; }

build_all() {
    build_first
    build_rest
}

build_first() {
    local console
    find_tools
    (step console "$(fingerprint console)" build_console) &
    console=$!
    step parts "$(fingerprint pom.xml core icalendar client demo/pom.xml demo/src)" build_parts
    wait "$console" || exit 1
}

build_rest() {
    step java "$(fingerprint pom.xml core icalendar client service demo/pom.xml demo/src console)" build_java
}

# Puts the demo's world into a folder, with the places of its stand-ins beside the service's port filled in.
# usage: fill_world FOLDER PORT KEY-OF-THE-HARBOUR'S-HOST
fill_world() {
    # what means something to sed may stand in the name of a folder
    local folder=${1//\\/\\\\} file
    folder=${folder//&/\\&}
    folder=${folder//|/\\|}
    local places="s|LOWMARSH|$folder|g; s|SERVICEPORT|$2|g; s|KIOSKPORT|$(($2 + 2))|g; s|MAILPORT|$(($2 + 1))|g; s|DATABASEPORT|$(($2 + 3))|g;
        s|HARBOURPORT|$(($2 + 4))|g; s|HARBOURKEY|$3|g"
    mkdir -p "$1/definitions"
    for file in "$root"/demo/definitions/*.yaml; do
        sed -e "$places" "$file" >"$1/definitions/$(basename "$file")"
    done
    sed -e "$places" "$root/demo/world.yaml" >"$1/world.yaml"
}

# The same for the service: it is started on the demo's world with a day of history, is asked for a few things as the
# console and the command would, and is stopped.
share_service_classes() {
    local java data address program token each archive=$root/service/target/gantrel-service.jsa
    java=$(java_program)
    data=$(mktemp -d)
    rm -f "$archive"
    fill_world "$data/world" 9 "ssh-ed25519 $(printf 'A%.0s' {1..68})"
    "$java" -XX:ArchiveClassesAtExit="$archive" -Xlog:disable -XX:+UseSerialGC -XX:TieredStopAtLevel=1 \
        -Dspring.aot.enabled=true -cp "$(service_classpath)" org.gantrel.service.start.Serve \
        --data "$data/data" --port 0 --demo "$data/world" --demo-days 1 >"$data/out" 2>&1 &
    program=$!
    while kill -0 "$program" 2>/dev/null && ! grep -qs 'listens on' "$data/out"; do read -r -t 0.2 <> <(:) || true; done
    address=$(sed -n 's/.*listens on \([^ ]*\) .*/\1/p' "$data/out")
    if [ -n "$address" ]; then
        token=$(curl -s -H 'Content-Type: application/json' "$address/api/v1/sessions" \
            -d '{"name": "mara.holt", "password": "lowmarsh-demo", "token": "classes"}' |
            sed -n 's/.*"token" *: *"\([^"]*\)".*/\1/p')
        curl -s "$address/" "$address/api/openapi.json" >/dev/null 2>&1 || true
        for each in health me today runs jobs jobs/settle-tickets schedules rosters forecast; do
            curl -s -H "Authorization: Bearer $token" "$address/api/v1/$each" >/dev/null 2>&1 || true
        done
        for each in rehearsal runs; do
            curl -s -H "Authorization: Bearer $token" -H 'Content-Type: application/json' -d '{}' \
                "$address/api/v1/jobs/night-close/$each" >/dev/null 2>&1 || true
        done
        kill "$program"
    else
        say "the service did not start: $(tail -n 40 "$data/out")"
    fi
    wait "$program" || true
    rm -rf "$data"
}

# The data folder of the service, as a full path. usage: data_folder OPTION...
data_folder() {
    local data=${GANTREL_DATA:-gantrel-data}
    while [ $# -gt 0 ]; do
        case $1 in
            --data=*) data=${1#*=} ;;
            --data) data=${2:-} ;;
        esac
        shift
    done
    case $data in /*) ;; *) data=$PWD/$data ;; esac
    printf '%s' "$data"
}

# A setting that matters before the service can read it: an option, an environment variable, or a line of the data
# folder's gantrel.yaml. usage: setting NAME VARIABLE OPTION...
setting() {
    local name=$1 variable=$2 data=${GANTREL_DATA:-gantrel-data} found=''
    shift 2
    while [ $# -gt 0 ]; do
        case $1 in
            "--$name="*) found=${1#*=} ;;
            "--$name") found=${2:-} ;;
            --data=*) data=${1#*=} ;;
            --data) data=${2:-} ;;
        esac
        shift
    done
    [ -n "$found" ] || found=${!variable:-}
    [ -n "$found" ] || found=$(sed -n "s/^$name:[[:space:]]*//p" "$data/gantrel.yaml" 2>/dev/null | head -n 1)
    printf '%s' "$found"
}

# Whoever sources this runs Java.
speak_utf8
