#!/usr/bin/env bash
# Sees that the system libraries Qt needs (app) and the tools of the window test (test) and of the bench (bench) are here.
# Missing ones are installed by apt-get when root; otherwise the exact command is printed.
set -eu
missing=()
library() { # soname, Debian package
    ldconfig -p | grep -q -F "$1" || missing+=("$2")
}
command_() { # command, Debian package
    command -v "$1" >/dev/null || missing+=("$2")
}
# ldconfig lives in sbin, which is not on everybody's PATH.
PATH="$PATH:/usr/sbin:/sbin"
for part in "$@"; do
    case "$part" in
    app)
        library libEGL.so.1 libegl1
        library libGL.so.1 libgl1
        library libfontconfig.so.1 libfontconfig1
        library libfreetype.so.6 libfreetype6
        library libdbus-1.so.3 libdbus-1-3
        library libglib-2.0.so.0 libglib2.0-0
        library libxkbcommon-x11.so.0 libxkbcommon-x11-0
        library libxcb-cursor.so.0 libxcb-cursor0
        library libxcb-icccm.so.4 libxcb-icccm4
        library libxcb-image.so.0 libxcb-image0
        library libxcb-keysyms.so.1 libxcb-keysyms1
        library libxcb-randr.so.0 libxcb-randr0
        library libxcb-render-util.so.0 libxcb-render-util0
        library libxcb-shape.so.0 libxcb-shape0
        library libxcb-xinerama.so.0 libxcb-xinerama0
        library libxcb-xkb.so.1 libxcb-xkb1
        ;;
    test)
        command_ Xvfb xvfb
        command_ xdotool xdotool
        # Audio servers for the live tests; an app that runs on one needs neither.
        command_ jackd jackd2
        command_ pipewire pipewire
        ls /usr/lib/*/pipewire-*/jack/libjack.so.0 >/dev/null 2>&1 || missing+=(pipewire-jack)
        ;;
    bench)
        command_ Xvfb xvfb
        command_ strace strace
        ;;
    esac
done
[ ${#missing[@]} -eq 0 ] && exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    echo "Installing system packages: ${missing[*]}"
    apt-get update -qq
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
else
    echo "Ennead needs system packages that are not here. As root, run:" >&2
    echo "    apt-get install -y --no-install-recommends ${missing[*]}" >&2
    exit 1
fi
