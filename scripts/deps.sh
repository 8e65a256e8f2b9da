#!/bin/sh
# Installs the Debian packages that are missing, with "tests" those of the tests too. Where it may not, it says what to
# install.
set -eu
missing=''
command -v mariadbd >/dev/null 2>&1 || [ -x /usr/sbin/mariadbd ] || missing="$missing mariadb-server"
if [ "${1:-}" = tests ]; then
  command -v chromium >/dev/null 2>&1 || missing="$missing chromium"
  command -v glpsol >/dev/null 2>&1 || missing="$missing glpk-utils" # the tests' reference solver
  [ -x /usr/sbin/haproxy ] || missing="$missing haproxy"             # before two programs and three nodes
  [ -e /usr/lib/galera/libgalera_smm.so ] || missing="$missing galera-4 rsync"
  command -v cc >/dev/null 2>&1 || missing="$missing gcc libc6-dev"  # for the race detector
fi
[ -n "$missing" ] || exit 0
if [ "$(id -u)" -ne 0 ] || ! command -v apt-get >/dev/null 2>&1; then
  echo "Falda needs these Debian packages, and only root may install them:$missing" >&2
  echo "Run this as root, then try again:" >&2
  echo "  apt-get update && apt-get install --no-install-recommends$missing" >&2
  exit 1
fi
echo "Installing$missing"
export DEBIAN_FRONTEND=noninteractive
apt-get update -qq
# the package starts a server of its own; Falda brings up a private one instead
if [ ! -e /usr/sbin/policy-rc.d ]; then
  printf '#!/bin/sh\nexit 101\n' > /usr/sbin/policy-rc.d
  chmod +x /usr/sbin/policy-rc.d
  trap 'rm -f /usr/sbin/policy-rc.d' EXIT
fi
# shellcheck disable=SC2086
apt-get install -y -qq --no-install-recommends $missing >/dev/null
