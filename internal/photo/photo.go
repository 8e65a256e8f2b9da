// Package photo takes in photographs: what was sent is decoded, turned upright, made no larger than a screen needs, and
// written anew, so that nothing else than the picture is kept of it: no place, no device, no other file behind it.
package photo

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	_ "image/png" // one of the two formats that are taken
	"io"
	"net/http"

	"github.com/disintegration/imaging"

	"falda/internal/core/fault"
)

// The bounds of what is sent and of what is kept.
const (
	MaxBytes  = 5 << 20
	maxPixels = 50_000_000
	maxSide   = 1600
	quality   = 82
)

// Photo is a picture as it is kept.
type Photo struct {
	JPEG       []byte
	Wide, High int
}

// Read takes in a photograph, JPEG or PNG, of at most MaxBytes. Faults name picture.
func Read(r io.Reader) (Photo, error) {
	raw, err := io.ReadAll(io.LimitReader(r, MaxBytes+1))
	if err != nil {
		return Photo{}, err
	}
	if len(raw) > MaxBytes {
		return Photo{}, bad("too_large", "is larger than 5 MB", "Take it at a lower resolution.")
	}
	if kind := http.DetectContentType(raw); kind != "image/jpeg" && kind != "image/png" {
		return Photo{}, bad("not_a_picture", "is no JPEG and no PNG", "Choose a photograph.")
	}
	head, _, err := image.DecodeConfig(bytes.NewReader(raw))
	if err != nil || head.Width < 1 || head.Height < 1 {
		return Photo{}, broken()
	}
	if head.Width*head.Height > maxPixels {
		return Photo{}, bad("too_large", fmt.Sprintf("is %d by %d pixels", head.Width, head.Height),
			"Take it at a lower resolution.")
	}
	picture, err := imaging.Decode(bytes.NewReader(raw), imaging.AutoOrientation(true))
	if err != nil {
		return Photo{}, broken()
	}
	if b := picture.Bounds(); b.Dx() > maxSide || b.Dy() > maxSide {
		picture = imaging.Fit(picture, maxSide, maxSide, imaging.Lanczos)
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, onWhite(picture), &jpeg.Options{Quality: quality}); err != nil {
		return Photo{}, err
	}
	b := picture.Bounds()
	return Photo{JPEG: out.Bytes(), Wide: b.Dx(), High: b.Dy()}, nil
}

// onWhite lays a picture that lets something through on white.
func onWhite(picture image.Image) image.Image {
	b := picture.Bounds()
	return imaging.Overlay(imaging.New(b.Dx(), b.Dy(), image.White), picture, image.Point{}, 1)
}

func bad(code, message, hint string) error { return fault.New("picture", code, message, hint) }

func broken() error { return bad("broken", "cannot be read as a picture", "Take it again.") }
