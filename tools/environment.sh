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

prepare() { # run|dev
    local kind=$1 venv lock stamp base wanted
    venv=$(environment_folder)
    python="$venv/bin/python"
    lock="$here/requirements.lock"
    [ "$kind" = dev ] && lock="$here/requirements-dev.lock"
    wanted=$(sha256sum "$lock" | cut -c1-16)
    stamp="$venv/.gravidon-$kind"
    if [ -x "$python" ] && [ "$(cat "$stamp" 2>/dev/null)" = "$wanted" ]; then return 0; fi
    # the fuller environment serves for running too, as long as it is of the present lock
    if [ "$kind" = run ] && [ -x "$python" ] && [ -f "$venv/.gravidon-dev" ] &&
        [ "$(cat "$venv/.gravidon-dev")" = "$(sha256sum "$here/requirements-dev.lock" | cut -c1-16)" ]; then return 0; fi
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
    qt_loads || { say "Qt does not start on this machine:"; QT_QPA_PLATFORM=offscreen "$python" -c 'from PyQt6.QtWidgets import QApplication; QApplication([])' >&2 || true; exit 2; }
    if [ "$kind" = run ] && [ -n "${DISPLAY:-}" ] && ! x11_loads; then
        install_packages "a system library for windows" libxcb-cursor0 libxcb-icccm4 libxcb-keysyms1 libxcb-shape0 libxkbcommon-x11-0
    fi
    "$python" -m compileall -q "$here/src" >/dev/null 2>&1 || true
    printf '%s' "$wanted" >"$stamp"
}
