# Shared by the scripts beside it: source it, do not run it.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."

# Installs the Debian packages of packages.txt that are missing.
install_packages() {
    local missing=()
    local package
    while read -r package; do
        dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' ||
            missing+=("$package")
    done < <(grep -Ev '^(#|$)' packages.txt)
    [ ${#missing[@]} -eq 0 ] && return
    local as_root=()
    [ "$(id -u)" -eq 0 ] || as_root=(sudo)
    echo "Installing: ${missing[*]}"
    "${as_root[@]}" apt-get update -qq
    DEBIAN_FRONTEND=noninteractive "${as_root[@]}" apt-get install -y -qq --no-install-recommends \
        "${missing[@]}" >/dev/null
}

# Configures and builds one preset: build PRESET [TARGET...]
build() {
    local preset=$1
    shift
    cmake --preset "$preset" >/dev/null
    cmake --build --preset "$preset" ${1:+--target "$@"}
}

# Runs a command on the screen there is, or on a virtual one.
with_display() {
    if [ -n "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ]; then
        "$@"
    else
        xvfb-run -a -s '-screen 0 1280x800x24' "$@"
    fi
}
