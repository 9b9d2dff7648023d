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
  apt_waiting $sudo apt-get update -qq
  apt_waiting $sudo env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}"
}

# Another package manager may hold the locks, as right after a machine has started: it is waited for, at most
# UC_APT_PATIENCE seconds (five minutes). Any other failure ends at once.
apt_waiting() {
  local patience="${UC_APT_PATIENCE:-300}" since=$SECONDS told="" said status
  while true; do
    status=0
    said="$(LC_ALL=C "$@" 2>&1 >/dev/null)" || status=$?
    [ "$status" -eq 0 ] && return 0
    case "$said" in *"Could not get lock"*|*"Unable to lock"*|*"Unable to acquire"*) ;; *) echo "$said" >&2; return "$status" ;; esac
    if [ $((SECONDS - since)) -ge "$patience" ]; then
      echo "$said" >&2
      echo "Another package manager is still at work after $patience s; wait until it has ended and try again." >&2
      return "$status"
    fi
    [ -n "$told" ] || echo "Another package manager is at work; waiting for it, up to $patience s."
    told=1
    sleep 2
  done
}

# One build at a time: the command line may still be built while the window is open. Ninja would start one step more than
# there are cores, and each takes a gigabyte of memory.
build() { flock build/building.lock cmake --build "$@" --parallel "$(nproc)"; }
