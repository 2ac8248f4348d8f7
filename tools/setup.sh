# Sourced by ./zombrel and ./check: makes .venv from a lock file and sees to system libraries.
# Everything is said on stderr, so that stdout stays JSON for `calc`.

zombrel_say() { printf 'zombrel: %s\n' "$*" >&2; }

zombrel_python() {
    for name in python3.13 python3.12 python3.11 python3 python; do
        if command -v "$name" >/dev/null 2>&1 &&
            "$name" -c 'import sys; sys.exit(not (3, 11) <= sys.version_info[:2] <= (3, 13))' 2>/dev/null; then
            printf '%s' "$name"
            return 0
        fi
    done
    return 1
}

# Whether system packages may be installed: root, and either ZOMBREL_YES=1, or nobody to ask (as in
# CI), or a yes at the terminal.
zombrel_may_install() {
    [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1 || return 1
    [ "${ZOMBREL_YES-}" = 1 ] && return 0
    [ -t 0 ] && [ -t 2 ] || return 0
    printf 'zombrel: install the system packages %s? [y/N] ' "$*" >&2
    read -r answer
    case "$answer" in [yY]*) return 0 ;; esac
    return 1
}

# Install Debian packages where that is allowed, otherwise print the one command to type.
zombrel_system() {
    if zombrel_may_install "$@"; then
        zombrel_say "installing system packages: $*"
        { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@"; } >&2 9>&- && return 0
        zombrel_say "apt-get failed; see above."
        return 1
    fi
    zombrel_say "a system package is missing. Type this, then start again:"
    zombrel_say "  sudo apt-get install -y $*"
    return 1
}

# The Debian package that brings each shared library the Qt wheels expect from the system.
zombrel_package_of() {
    case "$1" in
    libEGL.so.1) echo libegl1 ;;
    libGL.so.1) echo libgl1 ;;
    libOpenGL.so.0) echo libopengl0 ;;
    libGLX.so.0) echo libglx0 ;;
    libfontconfig.so.1) echo libfontconfig1 ;;
    libfreetype.so.6) echo libfreetype6 ;;
    libdbus-1.so.3) echo libdbus-1-3 ;;
    libglib-2.0.so.0 | libgthread-2.0.so.0) echo libglib2.0-0 ;;
    libxkbcommon.so.0) echo libxkbcommon0 ;;
    libxkbcommon-x11.so.0) echo libxkbcommon-x11-0 ;;
    libX11.so.6) echo libx11-6 ;;
    libX11-xcb.so.1) echo libx11-xcb1 ;;
    libxcb.so.1) echo libxcb1 ;;
    libxcb-cursor.so.0) echo libxcb-cursor0 ;;
    libxcb-icccm.so.4) echo libxcb-icccm4 ;;
    libxcb-image.so.0) echo libxcb-image0 ;;
    libxcb-keysyms.so.1) echo libxcb-keysyms1 ;;
    libxcb-randr.so.0) echo libxcb-randr0 ;;
    libxcb-render.so.0) echo libxcb-render0 ;;
    libxcb-render-util.so.0) echo libxcb-render-util0 ;;
    libxcb-shape.so.0) echo libxcb-shape0 ;;
    libxcb-shm.so.0) echo libxcb-shm0 ;;
    libxcb-sync.so.1) echo libxcb-sync1 ;;
    libxcb-util.so.1) echo libxcb-util1 ;;
    libxcb-xfixes.so.0) echo libxcb-xfixes0 ;;
    libxcb-xinerama.so.0) echo libxcb-xinerama0 ;;
    libxcb-xkb.so.1) echo libxcb-xkb1 ;;
    libxcb-glx.so.0) echo libxcb-glx0 ;;
    libz.so.1) echo zlib1g ;;
    libzstd.so.1) echo libzstd1 ;;
    libstdc++.so.6) echo libstdc++6 ;;
    libgcc_s.so.1) echo libgcc-s1 ;;
    libatomic.so.1) echo libatomic1 ;;
    *) ;;
    esac
}

zombrel_missing_libraries() {
    qt="$1/.venv/lib/python3"*/site-packages/PySide6
    # shellcheck disable=SC2086 # the pattern must expand
    for file in $qt/QtWidgets.abi3.so $qt/Qt/lib/libQt6XcbQpa.so.6 $qt/Qt/plugins/platforms/libqxcb.so \
        $qt/Qt/plugins/platforms/libqoffscreen.so; do
        [ -e "$file" ] && ldd "$file" 2>/dev/null | sed -n 's/^[[:space:]]*\([^ ]*\) => not found.*/\1/p'
    done | sort -u
}

zombrel_libraries() {
    missing=$(zombrel_missing_libraries "$1")
    [ -z "$missing" ] && return 0
    packages=""
    for library in $missing; do
        case "$library" in libQt6* | libpyside* | libshiboken*) continue ;; esac
        package=$(zombrel_package_of "$library")
        if [ -z "$package" ]; then
            zombrel_say "the system library $library is missing."
        else
            packages="$packages $package"
        fi
    done
    [ -z "$packages" ] && return 0
    # shellcheck disable=SC2086 # a list of words
    zombrel_system $packages
}

# A sound card as a scope wants one more library; all else runs without it.
zombrel_sound() {
    "$1/.venv/bin/python" -c 'import sounddevice' 2>/dev/null && return 0
    zombrel_say "a sound card as a scope wants libportaudio2; all else runs without it."
    zombrel_system libportaudio2 || true
}

# Papers are laid out by Pango; without it all but the owner's page runs.
zombrel_paper() {
    missing=$("$1/.venv/bin/python" -c '
from ctypes.util import find_library
need = {"pango-1.0": "libpango-1.0-0", "pangoft2-1.0": "libpangoft2-1.0-0",
        "harfbuzz-subset": "libharfbuzz-subset0"}
print(*[package for name, package in need.items() if not find_library(name)])')
    [ -z "$missing" ] && return 0
    # shellcheck disable=SC2086 # a list of words
    zombrel_system $missing && return 0
    [ "$missing" = libharfbuzz-subset0 ] # fonts are then cut by the layout itself
}

# The tests start a server of their own for the job book that several bays share.
zombrel_server() {
    command -v pg_ctl >/dev/null 2>&1 || ls /usr/lib/postgresql/*/bin/pg_ctl >/dev/null 2>&1 && return 0
    zombrel_system postgresql || zombrel_say "tests of a shared job book want: sudo apt-get install -y postgresql"
    return 0
}

# A library that left the lock file leaves .venv as well; those of the tests stay once they are there.
zombrel_prune() {
    known="$1/$2"
    [ -e "$1/.venv/ready-requirements-dev.lock" ] && known="$known $1/requirements-dev.lock"
    # shellcheck disable=SC2086 # a list of files
    gone=$("$1/.venv/bin/python" - $known <<'END'
import re
import sys
from importlib.metadata import distributions

def name(text):
    return re.sub(r"[-_.]+", "-", text).lower()

kept = {"pip", "setuptools", "wheel"}
for path in sys.argv[1:]:
    with open(path, encoding="utf-8") as file:
        kept |= {name(m[1]) for m in re.finditer(r"^([A-Za-z0-9._-]+)(?:\[[^]]*\])?==", file.read(), re.M)}
print(*sorted({name(d.metadata["Name"]) for d in distributions()} - kept))
END
    ) || return 1
    [ -z "$gone" ] && return 0
    zombrel_say "taking out libraries that are used no longer: $gone"
    # shellcheck disable=SC2086 # a list of words
    "$1/.venv/bin/python" -m pip uninstall --disable-pip-version-check -q -y $gone >&2
}

# Whether .venv was made from this lock file.
zombrel_made() { [ -e "$1/.venv/ready-$2" ] && [ ! "$1/$2" -nt "$1/.venv/ready-$2" ]; }

# zombrel_ready FOLDER LOCK: returns at once when .venv was made from this lock file. Of two first
# starts at once the second waits for the first.
zombrel_ready() {
    zombrel_made "$1" "$2" && return 0
    mkdir -p "$1/.venv" || return 1
    (
        if command -v flock >/dev/null 2>&1; then
            flock 9
        fi
        zombrel_made "$1" "$2" || zombrel_make "$1" "$2"
    ) 9>"$1/.venv/lock"
}

zombrel_make() {
    stamp="$1/.venv/ready-$2"
    python=$(zombrel_python) || {
        zombrel_system python3 python3-venv || return 1
        python=$(zombrel_python) || {
            zombrel_say "Python 3.11, 3.12 or 3.13 is needed and was not found."
            return 1
        }
    }
    "$python" -c 'import ensurepip, venv' 2>/dev/null || zombrel_system python3-venv || return 1
    zombrel_say "setting up (once; needs the network): making .venv with $python …"
    [ -x "$1/.venv/bin/python" ] || "$python" -m venv "$1/.venv" >&2 || {
        zombrel_say "the environment could not be made in $1/.venv."
        return 1
    }
    zombrel_say "fetching libraries listed in $2, checked against their hashes …"
    "$1/.venv/bin/python" -m pip install --disable-pip-version-check --progress-bar on \
        --require-hashes -r "$1/$2" >&2 || {
        zombrel_say "the libraries could not be installed; check the network and start again."
        return 1
    }
    zombrel_prune "$1" "$2" || return 1
    zombrel_libraries "$1" || return 1
    zombrel_sound "$1"
    zombrel_paper "$1" || [ "$2" = requirements.lock ] || return 1
    [ "$2" = requirements-dev.lock ] && zombrel_server
    "$1/.venv/bin/python" -m compileall -q "$1/src" >/dev/null 2>&1
    : >"$stamp"
    [ "$2" = requirements-dev.lock ] && : >"$1/.venv/ready-requirements.lock"
    zombrel_say "ready."
}
