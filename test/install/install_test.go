// Package install builds the Debian package and looks at what it would put on a machine.
package install

import (
	"compress/gzip"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

const root = "../.."

// run runs a program and gives what it says.
func run(t *testing.T, dir, name string, args ...string) string {
	t.Helper()
	c := exec.Command(name, args...)
	c.Dir = dir
	out, err := c.CombinedOutput()
	if err != nil {
		t.Fatalf("%s %s: %v\n%s", name, strings.Join(args, " "), err, out)
	}
	return string(out)
}

// unpacked builds the package and unpacks it into an empty root, as an installation would.
func unpacked(t *testing.T) (deb, into, version string) {
	t.Helper()
	if _, err := exec.LookPath("dpkg-deb"); err != nil {
		t.Skip("no dpkg-deb on this machine")
	}
	dir := t.TempDir()
	binary := filepath.Join(dir, "falda")
	run(t, root, "go", "build", "-o", binary, "./cmd/falda")
	deb = strings.TrimSpace(run(t, root, "sh", "scripts/deb.sh", dir, binary))
	into = filepath.Join(dir, "root")
	run(t, dir, "dpkg-deb", "-x", deb, into)
	raw, err := os.ReadFile(filepath.Join(root, "VERSION"))
	if err != nil {
		t.Fatal(err)
	}
	return deb, into, strings.TrimSpace(string(raw))
}

// The package holds the program, which says its version, the units, the settings, a manual page of that version and
// completion; its scripts are whole, and it asks for the database's server.
func TestThePackage(t *testing.T) {
	deb, into, version := unpacked(t)
	if said := run(t, into, filepath.Join(into, "usr/bin/falda"), "version"); !strings.HasPrefix(said, "falda "+version) {
		t.Errorf("it says %q", said)
	}
	fields := run(t, into, "dpkg-deb", "-f", deb)
	for _, want := range []string{"Package: falda", "Version: " + version, "mariadb-server"} {
		if !strings.Contains(fields, want) {
			t.Errorf("its control lacks %q:\n%s", want, fields)
		}
	}
	page, err := os.Open(filepath.Join(into, "usr/share/man/man1/falda.1.gz"))
	if err != nil {
		t.Fatal(err)
	}
	defer page.Close()
	z, err := gzip.NewReader(page)
	if err != nil {
		t.Fatal(err)
	}
	text, err := io.ReadAll(z)
	if err != nil || !strings.Contains(string(text), version) || strings.Contains(string(text), "@VERSION@") {
		t.Errorf("the manual page is not of %s: %v", version, err)
	}
	commands := run(t, into, filepath.Join(into, "usr/bin/falda"), "--help")
	for _, line := range strings.Split(commands, "\n") {
		name, _, ok := strings.Cut(strings.TrimSpace(line), " ")
		if !ok || !strings.HasPrefix(line, "  ") || name == "help" || strings.HasPrefix(name, "-") || name == "falda" {
			continue
		}
		if !strings.Contains(strings.ReplaceAll(string(text), "\\-", "-"), name) {
			t.Errorf("the manual page does not name %s", name)
		}
	}
	for _, file := range []string{"usr/share/bash-completion/completions/falda", "usr/share/zsh/vendor-completions/_falda",
		"usr/share/fish/vendor_completions.d/falda.fish", "usr/share/doc/falda/copyright", "usr/share/falda/falda.env"} {
		if about, err := os.Stat(filepath.Join(into, file)); err != nil || about.Size() == 0 {
			t.Errorf("%s: %v", file, err)
		}
	}
	control := filepath.Join(t.TempDir(), "control")
	run(t, into, "dpkg-deb", "-e", deb, control)
	for _, script := range []string{"postinst", "prerm", "postrm"} {
		run(t, control, "sh", "-n", script)
	}
}

// The units are as systemd wants them, and the service is shut in: its own user, nothing to write to but its folder, no
// new privileges.
func TestTheUnits(t *testing.T) {
	_, into, _ := unpacked(t)
	unit := filepath.Join(into, "usr/lib/systemd/system/falda.service")
	raw, err := os.ReadFile(unit)
	if err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{"User=falda", "NoNewPrivileges=yes", "ProtectSystem=strict", "CapabilityBoundingSet=\n",
		"ExecStart=/usr/bin/falda serve"} {
		if !strings.Contains(string(raw), want) {
			t.Errorf("the unit lacks %q", want)
		}
	}
	if _, err := exec.LookPath("systemd-analyze"); err != nil {
		t.Skip("no systemd-analyze on this machine")
	}
	for _, name := range []string{"falda.service", "falda-migrate.service"} {
		out, err := exec.Command("systemd-analyze", "--root="+into, "--recursive-errors=no", "--man=no", "verify",
			"/usr/lib/systemd/system/"+name).CombinedOutput()
		for _, line := range strings.Split(string(out), "\n") {
			if strings.Contains(line, "falda") && !strings.Contains(line, "man:falda") {
				t.Errorf("%s: %s (%v)", name, line, err)
			}
		}
	}
	// of 10, where 10 is not shut in at all
	out := run(t, into, "systemd-analyze", "security", "--offline=true", "--threshold=25", "--no-pager", unit)
	if !strings.Contains(out, "Overall exposure level") {
		t.Errorf("%s", out)
	}
}
