#!/bin/sh
# Builds the Debian package from what stands built: scripts/deb.sh FOLDER [BINARY]. It needs dpkg-deb alone.
set -eu
cd "$(dirname "$0")/.."
out=$1
binary=${2:-bin/falda}
version=$(cat VERSION)
arch=$(dpkg --print-architecture)
root=$(mktemp -d)
trap 'rm -rf "$root"' EXIT
chmod 0755 "$root"
install -Dm0755 "$binary" "$root/usr/bin/falda"
for unit in falda.service falda-migrate.service; do
  install -Dm0644 "packaging/$unit" "$root/usr/lib/systemd/system/$unit"
done
for file in falda.env owner.env; do
  install -Dm0644 "packaging/$file" "$root/usr/share/falda/$file"
done
share=$root/usr/share
mkdir -p "$share/man/man1" "$share/bash-completion/completions" "$share/zsh/vendor-completions" \
  "$share/fish/vendor_completions.d" "$share/doc/falda" "$root/DEBIAN"
sed "s/@VERSION@/$version/" packaging/falda.1 | gzip -9n > "$root/usr/share/man/man1/falda.1.gz"
"$binary" completion bash > "$root/usr/share/bash-completion/completions/falda"
"$binary" completion zsh > "$root/usr/share/zsh/vendor-completions/_falda"
"$binary" completion fish > "$root/usr/share/fish/vendor_completions.d/falda.fish"
gzip -9nc CHANGELOG.md > "$root/usr/share/doc/falda/changelog.gz"
install -m0644 THIRD_PARTY.md "$root/usr/share/doc/falda/copyright"
for script in postinst prerm postrm; do
  install -m0755 "packaging/$script" "$root/DEBIAN/$script"
done
cat > "$root/DEBIAN/control" <<CONTROL
Package: falda
Version: $version
Architecture: $arch
Maintainer: The makers of Falda <falda@none.invalid>
Depends: mariadb-server | default-mysql-server, adduser
Section: web
Priority: optional
Installed-Size: $(du -sk "$root" | cut -f1)
Description: Seaming beef and lamb muscle by muscle, and whether it paid
 A web app for a meat cutting specialist: the bench with its log, plans in steps,
 grades, value and comparison with traditional cutting, stock, orders, sales, learning.
CONTROL
mkdir -p "$out"
dpkg-deb --root-owner-group --build "$root" "$out/falda_${version}_$arch.deb" > /dev/null
echo "$out/falda_${version}_$arch.deb"
