#!/bin/sh
# Makes sure that a system package is there, installing it from Debian's if it is not.
# Usage: system.sh python | node | chromium | readers
set -eu

install() {
    echo "== setting up: installing $* (Debian packages)"
    as_root=""
    if [ "$(id -u)" != 0 ]; then
        command -v sudo >/dev/null || { echo "Please install as root: $*" >&2; exit 1; }
        as_root=sudo
    fi
    command -v apt-get >/dev/null || { echo "Please install: $*" >&2; exit 1; }
    $as_root apt-get update -qq
    $as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null
}

case "$1" in
python)
    python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null ||
        { echo "Python 3.11 or newer is needed as python3." >&2; exit 1; }
    python3 -c 'import ensurepip, venv' 2>/dev/null || install python3-venv
    ;;
node)
    command -v node >/dev/null && command -v npm >/dev/null || install nodejs npm
    node -e 'process.exit(process.versions.node.split(".")[0] >= 20 ? 0 : 1)' ||
        { echo "Node.js 20 or newer is needed; this is $(node --version)." >&2; exit 1; }
    ;;
chromium)
    command -v chromium >/dev/null || install chromium fonts-dejavu-core
    ;;
readers)
    command -v pdftoppm >/dev/null && command -v gs >/dev/null || install poppler-utils ghostscript
    ;;
*)
    echo "usage: system.sh python | node | chromium | readers" >&2
    exit 2
    ;;
esac
