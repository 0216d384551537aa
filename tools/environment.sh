# Sourced by the launchers: finds Python, makes the private environment, makes sure Qt can load.
# prepare run|dev leaves the interpreter in $python.

say() { printf 'gravidon: %s\n' "$*" >&2; }

environment_folder() {
    if [ -n "${GRAVIDON_VENV:-}" ]; then printf '%s' "$GRAVIDON_VENV"
    elif [ -w "$here" ]; then printf '%s' "$here/.venv"
    else printf '%s' "${XDG_DATA_HOME:-$HOME/.local/share}/gravidon/venv"; fi
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

# a library and the package that brings it
QT_LIBRARIES="libglib-2.0.so.0:libglib2.0-0 libGL.so.1:libgl1 libEGL.so.1:libegl1 libdbus-1.so.3:libdbus-1-3
    libfontconfig.so.1:libfontconfig1 libxkbcommon.so.0:libxkbcommon0"
X_LIBRARIES="libxcb-cursor.so.0:libxcb-cursor0 libxcb-icccm.so.4:libxcb-icccm4 libxcb-image.so.0:libxcb-image0
    libxcb-keysyms.so.1:libxcb-keysyms1 libxcb-randr.so.0:libxcb-randr0 libxcb-render-util.so.0:libxcb-render-util0
    libxcb-shape.so.0:libxcb-shape0 libxcb-xkb.so.1:libxcb-xkb1 libxkbcommon-x11.so.0:libxkbcommon-x11-0"

missing_packages() { # prints the packages that are missing for setting up, or for showing a window: all of them
    local known pair base
    known=$(PATH="$PATH:/sbin:/usr/sbin" ldconfig -p 2>/dev/null || true)
    if base=$(find_python); then
        "$base" -c 'import ensurepip' 2>/dev/null || printf 'python3-venv '
    else
        printf 'python3 python3-venv '
    fi
    for pair in $QT_LIBRARIES; do
        case "$known" in *"${pair%%:*}"*) ;; *) printf '%s ' "${pair##*:}" ;; esac
    done
    if [ "$1" = run ] && [ -n "${DISPLAY:-}" ]; then
        for pair in $X_LIBRARIES; do
            case "$known" in *"${pair%%:*}"*) ;; *) printf '%s ' "${pair##*:}" ;; esac
        done
    fi
}

install_packages() { # packages
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
        say "installing what the system lacks: $*"
        { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@"; } >&2 && return 0
    fi
    say "the system lacks a few packages; install them all with:"
    say "  sudo apt-get update && sudo apt-get install -y $*"
    exit 2
}

qt_loads() {
    QT_QPA_PLATFORM=offscreen "$python" -c \
        'from PyQt6 import QtSvg, QtPrintSupport; from PyQt6.QtWidgets import QApplication; QApplication([])' >/dev/null 2>&1
}

x11_lacks() { # prints what Qt's window plugin does not find
    local plugin found
    plugin=$("$python" -c 'import PyQt6, pathlib; print(pathlib.Path(PyQt6.__file__).parent / "Qt6/plugins/platforms/libqxcb.so")')
    # read to its end before it is searched: a search that stops early would break the pipe and count as nothing found
    found=$(ldd "$plugin" 2>/dev/null || true)
    printf '%s\n' "$found" | sed -n 's/^[[:space:]]*\([^ ]*\) => not found.*/\1/p'
}

stamped() { # stamp file, lock file
    [ -x "$python" ] && [ "$(cat "$1" 2>/dev/null)" = "$(sha256sum "$2" | cut -c1-16)" ]
}

prepare() { # run|dev
    local kind=$1 venv lacks
    venv=$(environment_folder)
    python="$venv/bin/python"
    # the fuller environment, of the present lock, serves for running too
    if ! stamped "$venv/.gravidon-dev" "$here/requirements-dev.lock"; then
        if [ "$kind" = dev ]; then
            install_environment "$venv" "$here/requirements-dev.lock" "$venv/.gravidon-dev" dev
        elif ! stamped "$venv/.gravidon-run" "$here/requirements.lock"; then
            install_environment "$venv" "$here/requirements.lock" "$venv/.gravidon-run" run
        fi
    fi
    if [ "$kind" = run ] && [ -n "${DISPLAY:-}" ] && ! [ -f "$venv/.gravidon-x11" ]; then
        if [ -n "$(x11_lacks)" ]; then
            lacks=$(missing_packages run)
            # shellcheck disable=SC2086  a list of packages
            [ -z "$lacks" ] || install_packages $lacks
        fi
        lacks=$(x11_lacks)
        if [ -z "$lacks" ]; then touch "$venv/.gravidon-x11"
        else say "windows may not open; Qt does not find: $(printf '%s' "$lacks" | tr '\n' ' ')"; fi
    fi
    return 0
}

spare_room() { # environment: takes out what the window never loads, some 150 MB
    local site qt
    for site in "$1"/lib/python*/site-packages; do
        qt="$site/PyQt6/Qt6"
        rm -rf "$qt/qml" "$qt/qsci" "$site"/PyQt6/bindings "$site"/PyQt6/lupdate "$site"/PyQt6/uic
        rm -rf "$qt"/plugins/{multimedia,qmltooling,qmllint,qmlls,designer,renderers,sceneparsers,geometryloaders,assetimporters,position,sensors,sqldrivers,texttospeech,webview,canbus,scxmldatamodel,geoservices,networkinformation,tls,help,renderplugins,wayland-graphics-integration-server}
        for part in Quick Qml Designer ShaderTools Pdf Multimedia Bluetooth Nfc RemoteObjects SpatialAudio Positioning Help \
            Sensors TextToSpeech WebChannel WebSockets StateMachine Labs Test Sql SerialPort Concurrent FFmpeg 3D; do
            rm -f "$qt"/lib/libQt6"$part"*.so* "$site"/PyQt6/Qt"$part"*.so "$site"/PyQt6/Qt"$part"*.pyi
        done
        rm -f "$qt"/lib/lib{av,sw}*.so*
        find "$site/scipy" "$site/contourpy" "$site/pint" -type d \( -name tests -o -name testsuite \) -prune -exec rm -rf {} + 2>/dev/null || true
    done
    touch "$1/.gravidon-spared"
}

install_environment() { # environment, lock file, stamp, run|dev
    local venv=$1 lock=$2 stamp=$3 kind=$4 base lacks
    case "$venv" in *[\,\;\"\\]*)
        say "Qt cannot start from a folder whose path has , ; \" or \\ in it: $venv"
        say "move it, or set GRAVIDON_VENV to another folder for the private environment"
        exit 2 ;;
    esac
    lacks=$(missing_packages "$kind")
    # shellcheck disable=SC2086  a list of packages
    [ -z "$lacks" ] || install_packages $lacks
    if [ "$kind" = dev ] && [ -e "$venv/.gravidon-spared" ]; then # what was left out for running is needed for the tests
        rm -rf "$venv"
    fi
    base=$(find_python) || { say "no Python 3.11 or later was found"; exit 2; }
    say "setting up its private environment in $venv (once, some 150 MB to fetch)"
    if ! [ -x "$python" ] || ! "$python" -m pip --version >/dev/null 2>&1; then
        rm -rf "$venv"
        mkdir -p "$(dirname "$venv")"
        "$base" -m venv "$venv"
    fi
    "$python" -m pip install --quiet --disable-pip-version-check --require-hashes -r "$lock" >&2 ||
        { say "the packages could not be installed; see the lines above"; exit 2; }
    qt_loads || {
        say "Qt does not start on this machine:"
        QT_QPA_PLATFORM=offscreen "$python" -c 'from PyQt6.QtWidgets import QApplication; QApplication([])' >&2 || true
        exit 2
    }
    [ "$kind" = dev ] || spare_room "$venv"
    "$python" -m compileall -q "$here/src" >/dev/null 2>&1 || true
    sha256sum "$lock" | cut -c1-16 >"$stamp"
}
