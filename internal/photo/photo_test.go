package photo_test

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"falda/internal/core/fault"
	"falda/internal/photo"
)

// halves is a picture whose left half is red and whose right half is blue.
func halves(wide, high int) image.Image {
	m := image.NewNRGBA(image.Rect(0, 0, wide, high))
	for y := range high {
		for x := range wide {
			c := color.NRGBA{R: 255, A: 255}
			if x >= wide/2 {
				c = color.NRGBA{B: 255, A: 255}
			}
			m.Set(x, y, c)
		}
	}
	return m
}

// withExif puts an Exif segment behind the first two bytes of a JPEG: orientation 6 (turn it a quarter clockwise) and a
// text that stands for what must not be kept. The layout is that of TIFF 6.0 in an APP1 segment (Exif 2.3, from
// memory).
func withExif(t *testing.T, m image.Image) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, nil); err != nil {
		t.Fatal(err)
	}
	tiff := []byte("MM\x00\x2a\x00\x00\x00\x08" + "\x00\x01" + "\x01\x12\x00\x03\x00\x00\x00\x01\x00\x06\x00\x00" +
		"\x00\x00\x00\x00" + "A SECRET PLACE")
	body := append([]byte("Exif\x00\x00"), tiff...)
	seg := []byte{0xff, 0xe1}
	seg = binary.BigEndian.AppendUint16(seg, uint16(len(body)+2))
	return append(append(b.Bytes()[:2:2], append(seg, body...)...), b.Bytes()[2:]...)
}

func TestOnlyThePictureIsKept(t *testing.T) {
	raw := withExif(t, halves(80, 40))
	if !bytes.Contains(raw, []byte("SECRET")) {
		t.Fatal("the secret is not in what is sent")
	}
	p, err := photo.Read(bytes.NewReader(raw))
	if err != nil {
		t.Fatal(err)
	}
	if bytes.Contains(p.JPEG, []byte("SECRET")) || bytes.Contains(p.JPEG, []byte("Exif")) {
		t.Error("what was behind the picture is kept")
	}
	m, err := jpeg.Decode(bytes.NewReader(p.JPEG))
	if err != nil || p.Wide != 40 || p.High != 80 || m.Bounds().Dx() != 40 {
		t.Fatalf("%d by %d, %v: not turned upright", p.Wide, p.High, err)
	}
	// turned a quarter clockwise, what was left is above
	if r, _, b, _ := m.At(20, 10).RGBA(); r < b {
		t.Error("the red half is not above")
	}
}

func TestLargeOnesAreMadeSmaller(t *testing.T) {
	var b bytes.Buffer
	if err := png.Encode(&b, halves(3200, 800)); err != nil {
		t.Fatal(err)
	}
	p, err := photo.Read(&b)
	if err != nil || p.Wide != 1600 || p.High != 400 {
		t.Errorf("%d by %d, %v", p.Wide, p.High, err)
	}
}

func TestWhatIsRefused(t *testing.T) {
	var huge bytes.Buffer
	if err := png.Encode(&huge, image.NewGray(image.Rect(0, 0, 10_000, 6000))); err != nil {
		t.Fatal(err)
	}
	var cut bytes.Buffer
	if err := jpeg.Encode(&cut, halves(80, 40), nil); err != nil {
		t.Fatal(err)
	}
	for _, x := range []struct {
		code string
		raw  []byte
	}{{"not_a_picture", []byte("<svg onload='x'/>")}, {"too_large", huge.Bytes()}, {"broken", cut.Bytes()[:100]}} {
		_, err := photo.Read(bytes.NewReader(x.raw))
		if list := fault.Of(err); len(list) != 1 || list[0].Code != x.code || list[0].Field != "picture" {
			t.Errorf("%s: %v", x.code, err)
		}
	}
	_, err := photo.Read(strings.NewReader(strings.Repeat("x", photo.MaxBytes+1)))
	if list := fault.Of(err); len(list) != 1 || list[0].Code != "too_large" {
		t.Errorf("too many bytes: %v", err)
	}
	if _, err := photo.Read(strings.NewReader("")); err == nil {
		t.Error("nothing is a picture")
	}
}
