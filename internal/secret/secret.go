package secret

import (
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"golang.org/x/crypto/argon2"

	"falda/internal/core/fault"
)

// The cost of a hash: 19 MiB, two passes, one lane, the least that the OWASP Password Storage Cheat Sheet (2024)
// recommends for Argon2id; salt and tag as in RFC 9106, section 4.
const (
	memory  = 19 << 10 // KiB
	passes  = 2
	lanes   = 1
	saltLen = 16
	tagLen  = 32
	maxCost = 1 << 20 // KiB; a hash that asks for more is not computed
)

// hashing bounds how many hashes are computed at once, so that a flood of sign-ins cannot take all memory.
var hashing = make(chan struct{}, 4)

// ErrHash is a kept hash that cannot be read.
var ErrHash = errors.New("not an Argon2id hash")

// Hash gives the Argon2id hash of a password or PIN in its text form, with a new salt.
func Hash(password string) string {
	salt := make([]byte, saltLen)
	rand.Read(salt) //nolint: it never fails (crypto/rand)
	return encode(tag(password, salt, memory, passes, lanes, tagLen), salt, memory, passes, lanes)
}

func encode(tag, salt []byte, memory, passes uint32, lanes uint8) string {
	b := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, memory, passes, lanes,
		b.EncodeToString(salt), b.EncodeToString(tag))
}

func tag(password string, salt []byte, memory, passes uint32, lanes uint8, length uint32) []byte {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	return argon2.IDKey([]byte(password), salt, passes, memory, lanes, length)
}

// Fits says whether a password is that of a hash. An empty hash fits nothing, and takes as long to say so.
func Fits(hash, password string) (bool, error) {
	if hash == "" {
		tag(password, make([]byte, saltLen), memory, passes, lanes, tagLen)
		return false, nil
	}
	var version int
	var m, t uint32
	var p uint8
	parts := strings.Split(hash, "$")
	if len(parts) != 6 || parts[0] != "" || parts[1] != "argon2id" {
		return false, ErrHash
	}
	if _, err := fmt.Sscanf(parts[2], "v=%d", &version); err != nil || version != argon2.Version {
		return false, ErrHash
	}
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &m, &t, &p); err != nil || m > maxCost || t == 0 || t > 64 ||
		p == 0 {
		return false, ErrHash
	}
	salt, err := base64.RawStdEncoding.DecodeString(parts[4])
	if err != nil {
		return false, ErrHash
	}
	want, err := base64.RawStdEncoding.DecodeString(parts[5])
	if err != nil || len(want) < 4 || len(want) > 64 {
		return false, ErrHash
	}
	return subtle.ConstantTimeCompare(tag(password, salt, m, t, p, uint32(len(want))), want) == 1, nil
}

// NewToken makes a secret of 256 bits with a prefix that says what it is for.
func NewToken(prefix string) string {
	raw := make([]byte, 32)
	rand.Read(raw)
	return prefix + base64.RawURLEncoding.EncodeToString(raw)
}

// letters are those of a code: none that is read for another.
const letters = "ABCDEFGHJKMNPQRSTUVWXYZ23456789"

// NewCode makes a code of eight letters in two groups, to be typed within minutes: 39 bits.
func NewCode() string {
	var b strings.Builder
	one := make([]byte, 1)
	for n := 0; n < 8; {
		rand.Read(one)
		if int(one[0]) >= 256/len(letters)*len(letters) { // so that every letter is as likely
			continue
		}
		if n == 4 {
			b.WriteByte('-')
		}
		b.WriteByte(letters[int(one[0])%len(letters)])
		n++
	}
	return b.String()
}

// PlainCode brings a typed code into the form in which it is kept.
func PlainCode(typed string) string {
	return strings.Map(func(r rune) rune {
		if r == '-' || r == ' ' {
			return -1
		}
		return r
	}, strings.ToUpper(strings.TrimSpace(typed)))
}

// Digest is what is kept of a token or code: its SHA-256 in hexadecimal.
func Digest(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

// Bounds of a password, in characters, and the length of a PIN, in digits: with the last one it is sent, without a
// further touch.
const (
	MinPassword = 12
	MaxPassword = 200
	PinLength   = 4
)

// common are words that a password must not be made of alone, in lower case.
var common = []string{"password", "passwort", "falda", "letmein", "welcome", "qwerty", "azerty", "iloveyou", "butcher",
	"cutter", "steak", "admin", "abc"}

// CheckPassword says what is wrong with a new password: its length counts, not its kinds of letters (NIST SP 800-63B,
// section 5.1.1.2). About are words an attacker would try first, such as the address.
func CheckPassword(password string, about ...string) error {
	n := utf8.RuneCountInString(password)
	switch {
	case !utf8.ValidString(password):
		return fault.New("", "not_text", "holds characters that are not text", "Type it again.")
	case n < MinPassword:
		return fault.New("", "too_short", fmt.Sprintf("is shorter than %d characters", MinPassword),
			"Take a few words that belong together for you alone.")
	case n > MaxPassword:
		return fault.New("", "too_long", fmt.Sprintf("is longer than %d characters", MaxPassword), "Shorten it.")
	}
	rest := strings.ToLower(password)
	for _, word := range append(about, common...) {
		if word = strings.ToLower(word); utf8.RuneCountInString(word) >= 3 {
			rest = strings.ReplaceAll(rest, word, "")
		}
	}
	seen := map[rune]bool{}
	for _, r := range strings.Trim(rest, "0123456789 .-_!?") {
		seen[r] = true
	}
	if len(seen) < 5 {
		return fault.New("", "too_easy", "is too easy to guess", "Take a few words that belong together for you alone.")
	}
	return nil
}

// CheckPin says what is wrong with a new PIN.
func CheckPin(pin string) error {
	if len(pin) != PinLength || strings.Trim(pin, "0123456789") != "" {
		return fault.New("", "not_a_pin", fmt.Sprintf("is not %d digits", PinLength), "Use digits only.")
	}
	same, up, down := true, true, true
	for i := 1; i < len(pin); i++ {
		same, up, down = same && pin[i] == pin[0], up && pin[i] == pin[i-1]+1, down && pin[i] == pin[i-1]-1
	}
	if same || up || down {
		return fault.New("", "too_easy", "is one of those that are tried first", "Take digits that do not run in a row.")
	}
	return nil
}

// The longest wait, and how long after the last failure all is forgotten.
const (
	longestWait = 5 * time.Minute
	forgiven    = time.Hour
)

// Wait says how long after the last failure the next attempt is refused: nothing for the first free failures, then a
// second, doubling with each. After an hour without a failure all is forgotten.
func Wait(failures, free int) time.Duration {
	if failures < free {
		return 0
	}
	if n := failures - free; n < 9 {
		return min(time.Second<<n, longestWait)
	}
	return longestWait
}

// Forgiven says whether failures are old enough to be forgotten.
func Forgiven(last, now time.Time) bool { return now.Sub(last) > forgiven }
