package secret_test

import (
	"strings"
	"testing"
	"time"

	"falda/internal/core/fault"
	"falda/internal/secret"
)

// Hashes made with the reference program (Debian's package argon2 0~20171227, `argon2 SALT -id -t … -k … -p … -l …
// -e`); the first one stands in the reference implementation's own tests too.
func TestHashesOfTheReferenceProgram(t *testing.T) {
	for _, c := range []struct{ password, hash string }{
		{"password", "$argon2id$v=19$m=65536,t=2,p=1$c29tZXNhbHQ$CTFhFdXPJO1aFaMaO6Mm5c8y7cJHAph8ArZWb2GRPPc"},
		{"a few words of mine",
			"$argon2id$v=19$m=19456,t=2,p=1$c2l4dGVlbmJ5dGVzc2FsdA$+ZvXcIz1CHHH2N/2FVPUJmRz0f5cf6qNDQ16icjQg6E"},
		{"Grüße vom Hafen", "$argon2id$v=19$m=4096,t=3,p=4$c2l4dGVlbmJ5dGVzc2FsdA$nCpuK/zwlzsBY1U9fDrG5F5Wl4z5qlXt"},
	} {
		if fits, err := secret.Fits(c.hash, c.password); !fits || err != nil {
			t.Errorf("%q does not fit %s: %v", c.password, c.hash, err)
		}
		if fits, err := secret.Fits(c.hash, c.password+" "); fits || err != nil {
			t.Errorf("a blank more fits %s too: %v", c.hash, err)
		}
	}
}

func TestHashAndFit(t *testing.T) {
	a, b := secret.Hash("4802"), secret.Hash("4802")
	if a == b || !strings.HasPrefix(a, "$argon2id$v=19$m=19456,t=2,p=1$") || strings.Contains(a, "4802") {
		t.Errorf("two hashes of one PIN: %s, %s", a, b)
	}
	for _, h := range []string{a, b} {
		if fits, err := secret.Fits(h, "4802"); !fits || err != nil {
			t.Errorf("%s: %v", h, err)
		}
	}
	if fits, err := secret.Fits("", ""); fits || err != nil {
		t.Errorf("an empty hash fits an empty password: %v", err)
	}
	for _, bad := range []string{"4802", "$argon2i$v=19$m=19456,t=2,p=1$c2FsdA$aGFzaA",
		"$argon2id$v=16$m=19456,t=2,p=1$c2FsdA$aGFzaGFzaA", "$argon2id$v=19$m=9999999,t=2,p=1$c2FsdA$aGFzaGFzaA",
		"$argon2id$v=19$m=8,t=0,p=1$c2FsdA$aGFzaGFzaA", "$argon2id$v=19$m=8,t=1,p=1$!$aGFzaGFzaA",
		"$argon2id$v=19$m=8,t=1,p=1$c2FsdA$"} {
		if fits, err := secret.Fits(bad, "4802"); fits || err == nil {
			t.Errorf("%s was taken for a hash", bad)
		}
	}
}

// NIST SP 800-63B, section 5.1.1.2: length counts, composition does not; what would be tried first is refused.
func TestNewPasswordsAndPins(t *testing.T) {
	code := func(err error) string {
		if f := fault.Of(err); len(f) > 0 {
			return f[0].Code
		}
		return ""
	}
	for password, want := range map[string]string{
		"river stone lantern": "", "aaaaaaaaaaaaaaaaaaaa": "too_easy", "short": "too_short", "elevenchars": "too_short",
		"123456789012": "too_easy", "password1234": "too_easy", "Passwordpassword": "too_easy", "skerrowskerrow1": "too_easy",
		strings.Repeat("wörter ", 40): "too_long", "nur-kleine-woerter": "", "a\xffbcdefghijklm": "not_text",
		"правильная лошадь": "",
	} {
		if got := code(secret.CheckPassword(password, "skerrow")); got != want {
			t.Errorf("%q: %q, want %q", password, got, want)
		}
	}
	for pin, want := range map[string]string{"4802": "", "0007": "", "123": "not_a_pin", "48021": "not_a_pin",
		"48a2": "not_a_pin", "": "not_a_pin", "٤٨٠٢": "not_a_pin", "1111": "too_easy", "3456": "too_easy",
		"9876": "too_easy"} {
		if got := code(secret.CheckPin(pin)); got != want {
			t.Errorf("PIN %q: %q, want %q", pin, got, want)
		}
	}
}

func TestTokensAndCodes(t *testing.T) {
	seen, letters := map[string]bool{}, map[rune]bool{}
	for range 500 {
		token, code := secret.NewToken("ft_"), secret.NewCode()
		if len(token) != 3+43 || seen[token] || seen[code] || len(code) != 9 || code[4] != '-' {
			t.Fatalf("%s, %s", token, code)
		}
		seen[token], seen[code] = true, true
		for _, r := range secret.PlainCode(code) {
			letters[r] = true
		}
	}
	for _, r := range "IL10O" {
		if letters[r] {
			t.Errorf("a code holds %c, which is read for another", r)
		}
	}
	if len(letters) != 31 {
		t.Errorf("4,000 letters of codes show only %d different ones", len(letters))
	}
	if got := secret.PlainCode(" abcd 23-45 "); got != "ABCD2345" {
		t.Errorf("a typed code became %s", got)
	}
	// FIPS 180-2, appendix B.1
	if got := secret.Digest("abc"); got != "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad" {
		t.Errorf("the digest of abc is %s", got)
	}
}

// Nobody waits for the first slips; then the wait doubles and stays bounded, so that nobody is locked out for good.
func TestWaits(t *testing.T) {
	var total time.Duration
	last := time.Duration(-1)
	for n := range 60 {
		w := secret.Wait(n, 5)
		if (n < 5) != (w == 0) || w < last || w > 5*time.Minute {
			t.Errorf("after %d failures one waits %s", n, w)
		}
		last = w
		total += w
	}
	if secret.Wait(5, 5) != time.Second || secret.Wait(8, 5) != 8*time.Second || last != 5*time.Minute || total < 3*
		time.Hour {
		t.Errorf("60 guesses take %s, the last waits %s", total, last)
	}
	now := time.Now()
	if secret.Forgiven(now.Add(-59*time.Minute), now) || !secret.Forgiven(now.Add(-61*time.Minute), now) {
		t.Error("failures are forgotten after an hour")
	}
}

func FuzzFits(f *testing.F) {
	f.Add("$argon2id$v=19$m=8,t=1,p=1$c2FsdA$aGFzaGFzaA", "x")
	f.Add("$$$$$", "")
	f.Fuzz(func(t *testing.T, hash, password string) {
		if strings.Contains(hash, "m=") && len(hash) > 80 {
			t.Skip() // costs nothing but time
		}
		if fits, err := secret.Fits(hash, password); fits && err != nil {
			t.Fatalf("%q fits and fails", hash)
		}
	})
}
