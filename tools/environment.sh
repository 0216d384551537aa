# Sourced by the launchers: finds Python, makes the private environment, makes sure Qt can load.
# prepare run|dev leaves the interpreter in $python.

say() { printf 'gravidon: %s\n' "$*" >&2; }

environment_folder() {
    if [ -n "${GRAVIDON_VENV:-}" ]; then printf '%s' "$GRAVIDON_VENV"
    elif [ -w "$here" ]; then printf '%s' "$here/.venv"
    else printf '%s' "${XDG_DATA_HOME:-$HOME/.local/share}/gravidon/venv"; fi
}

install_packages() { # name of what is missing, packages
    local why=$1; shift
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
        say "installing $why: $*"
        { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@"; } >&2 && return 0
    fi
    say "$why is missing; install it with:"
    say "  sudo apt-get update && sudo apt-get install -y $*"
    exit 2
}

find_python() {
    local candidate
    for candidate in python3.11 python3.12 python3.13 python3; do
        if command -v "$candidate" >/dev/null && "$candidate" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            command -v "$candidate"; return 0
        fi
    done
    return 1
}

qt_loads() {
    QT_QPA_PLATFORM=offscreen "$python" -c \
        'from PyQt6 import QtSvg, QtPrintSupport; from PyQt6.QtWidgets import QApplication; QApplication([])' >/dev/null 2>&1
}

x11_loads() {
    local plugin
    plugin=$("$python" -c 'import PyQt6, pathlib; print(pathlib.Path(PyQt6.__file__).parent / "Qt6/plugins/platforms/libqxcb.so")')
    ! ldd "$plugin" 2>/dev/null | grep -q 'not found'
}

stamped() { # stamp file, lock file
    [ -x "$python" ] && [ "$(cat "$1" 2>/dev/null)" = "$(sha256sum "$2" | cut -c1-16)" ]
}

prepare() { # run|dev
    local kind=$1 venv
    venv=$(environment_folder)
    python="$venv/bin/python"
    # the fuller environment, of the present lock, serves for running too
    if ! stamped "$venv/.gravidon-dev" "$here/requirements-dev.lock"; then
        if [ "$kind" = dev ]; then
            install_environment "$venv" "$here/requirements-dev.lock" "$venv/.gravidon-dev"
        elif ! stamped "$venv/.gravidon-run" "$here/requirements.lock"; then
            install_environment "$venv" "$here/requirements.lock" "$venv/.gravidon-run"
        fi
    fi
    if [ "$kind" = run ] && [ -n "${DISPLAY:-}" ] && ! [ -f "$venv/.gravidon-x11" ]; then
        x11_loads || install_packages "a system library for windows" \
            libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 \
            libxcb-xkb1 libxkbcommon-x11-0
        x11_loads && touch "$venv/.gravidon-x11"
    fi
    return 0
}

install_environment() { # environment, lock file, stamp
    local venv=$1 lock=$2 stamp=$3 base
    say "setting up its private environment in $venv (once)"
    base=$(find_python) || { install_packages "Python 3.11" python3 python3-venv; base=$(find_python); }
    if ! "$base" -c 'import ensurepip' 2>/dev/null; then install_packages "Python's venv" python3-venv; fi
    if ! [ -x "$python" ] || ! "$python" -m pip --version >/dev/null 2>&1; then
        rm -rf "$venv"
        mkdir -p "$(dirname "$venv")"
        "$base" -m venv "$venv"
    fi
    "$python" -m pip install --quiet --disable-pip-version-check --require-hashes -r "$lock" >&2 ||
        { say "the packages could not be installed; see the lines above"; exit 2; }
    qt_loads || install_packages "a system library for Qt" libglib2.0-0 libgl1 libegl1 libdbus-1-3 libfontconfig1 libxkbcommon0
    qt_loads || {
        say "Qt does not start on this machine:"
        QT_QPA_PLATFORM=offscreen "$python" -c 'from PyQt6.QtWidgets import QApplication; QApplication([])' >&2 || true
        exit 2
    }
    "$python" -m compileall -q "$here/src" >/dev/null 2>&1 || true
    sha256sum "$lock" | cut -c1-16 >"$stamp"
}
