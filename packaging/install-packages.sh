# Sourced by ./run and ./test: installs the Debian packages of debian-packages.txt that are missing, and builds.
install_packages() {
  local missing=() name
  while read -r name; do
    case "$name" in ''|'#'*) continue ;; esac
    dpkg-query -W -f='${db:Status-Status}' "$name" 2>/dev/null | grep -qx installed || missing+=("$name")
  done < packaging/debian-packages.txt
  [ ${#missing[@]} -eq 0 ] && return 0
  echo "Installing: ${missing[*]}"
  local sudo=""
  [ "$(id -u)" -eq 0 ] || sudo=sudo
  $sudo apt-get update -qq
  $sudo env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}

# One build at a time: the command line may still be built while the window is open. Ninja would start one step more than
# there are cores, and each takes a gigabyte of memory.
build() { flock build/building.lock cmake --build "$@" --parallel "$(nproc)"; }
