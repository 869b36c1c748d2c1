# ./wax bench bare [RELEASE ...]: the commands of the README on machines that have nothing: Debian 12 and 13 as
# debootstrap makes them, walked as root and as a user with sudo whose PATH is bare.

BARE= # where the roots are
BARE_RELEASES=(bookworm trixie)

bench_bare() {
  local release who failed=0
  [ $# -eq 0 ] || BARE_RELEASES=("$@")
  [ "$(id -u)" -eq 0 ] || fail "bench bare makes whole systems beside this one, which takes root"
  command -v debootstrap >/dev/null || need_for_once debootstrap
  make_var
  BARE=$(mktemp -d /var/tmp/wax-bare-XXXXXX)
  at_exit leave_bare
  for release in "${BARE_RELEASES[@]}"; do make_bare "$release"; done
  for release in "${BARE_RELEASES[@]}"; do
    for who in root angler; do
      say "Debian $release, as $who"
      walk_bare "$release" "$who" || { failed=1; say "It failed; the last lines:"; tail -n 15 "$BARE/$release-$who.log"; }
    done
  done
  [ "$failed" -eq 0 ] || fail "a machine that has nothing is not served: see above"
  say "All well on ${BARE_RELEASES[*]}, as root and as a user with sudo"
}

# make_bare RELEASE: nothing but a minimal system with git and sudo, and this machine's ways to its registries
make_bare() {
  local root=$BARE/$1 mirror
  mirror=$(apt-get indextargets --format '$(SITE)' 'Created-By: Packages' | grep -v security | head -n 1)
  say "Making a bare Debian $1"
  debootstrap --variant=minbase --include=git,sudo,ca-certificates "$1" "$root" "$mirror" >"$BARE/$1.log" 2>&1 ||
    fail "debootstrap of $1 failed; the last lines:
$(tail -n 5 "$BARE/$1.log")"
  cp /etc/resolv.conf /etc/hosts "$root/etc/"
  cp /etc/apt/apt.conf.d/99* "$root/etc/apt/apt.conf.d/" 2>/dev/null || true
  if [ -f /etc/pip.conf ]; then grep -vE 'constraint|find-links|extra-index' /etc/pip.conf >"$root/etc/pip.conf"; fi
  cp -r /etc/ssl/certs "$root/etc/ssl/"
  mount -t proc proc "$root/proc"
  mount --rbind /dev "$root/dev"
  mount --make-rslave "$root/dev"
  chroot "$root" useradd --create-home --shell /bin/bash angler
  echo 'angler ALL=(ALL) NOPASSWD: ALL' >"$root/etc/sudoers.d/angler"
}

leave_bare() {
  local release process
  for release in "${BARE_RELEASES[@]}"; do
    # What runs in there, and nothing of this machine's own.
    for process in /proc/[0-9]*; do
      if [ "$(readlink "$process/root" 2>/dev/null)" = "$BARE/$release" ]; then kill "${process#/proc/}" 2>/dev/null || true; fi
    done
    umount -R -l "$BARE/$release/dev" "$BARE/$release/proc" 2>/dev/null || true
  done
  rm -rf --one-file-system "$BARE"
}

# walk_bare RELEASE USER: every step in a shell of that user with a bare PATH; what comes of it is in a log
walk_bare() {
  local root=$BARE/$1 who=$2 home port=8140
  home=$([ "$who" = root ] && echo /root || echo "/home/$who")
  rm -rf "$root$home/a clone"
  git clone -q . "$root$home/a clone"
  cp "$PWD/ops/bare-walk.sh" "$root$home/walk.sh"
  if [ -e "$BARE/kept.backup" ]; then cp "$BARE/kept.backup" "$BARE/key" "$root$home/"; fi
  chroot "$root" chown -R "$who:" "$home"
  chroot "$root" su -s /bin/bash -c "cd '$home' && env -i HOME='$home' PATH=/usr/bin:/bin WAX_PORT=$port bash walk.sh" "$who" \
    >"$BARE/$1-$who.log" 2>&1 || return 1
  # What one machine kept is put back on the next.
  cp "$root$home/whole.backup" "$BARE/kept.backup"
  cp "$root$home/key" "$BARE/key"
}
