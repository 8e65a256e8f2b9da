package browser

import (
	"bytes"
	"fmt"
	"image/png"
	"testing"

	"github.com/go-rod/rod/lib/proto"
)

// colours counts how many colours an element shows, a pixel in eight each way.
func (s *screen) colours(selector string) int {
	s.t.Helper()
	raw, err := s.MustElement(selector).Screenshot(proto.PageCaptureScreenshotFormatPng, 0)
	if err != nil {
		s.t.Fatal(err)
	}
	picture, err := png.Decode(bytes.NewReader(raw))
	if err != nil {
		s.t.Fatal(err)
	}
	seen := map[string]bool{}
	for x := picture.Bounds().Min.X; x < picture.Bounds().Max.X; x += 8 {
		for y := picture.Bounds().Min.Y; y < picture.Bounds().Max.Y; y += 8 {
			r, g, b, _ := picture.At(x, y).RGBA()
			seen[fmt.Sprint(r>>11, g>>11, b>>11)] = true
		}
	}
	return len(seen)
}

// The block in the hand: it is drawn, turns by key and by drag, comes apart in the order of its seams and goes together
// again, is sawn, and a part that is touched is read. Numbers are read, not pixels, except that it is not blank.
func TestTheBlockInTheHand(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/atlas/beef.top_sirloin", 1280, 900)
	const canvas = "[data-test=block] canvas"
	s.until("the block is drawn", `+document.querySelector('`+canvas+`')?.dataset.frames > 0`)
	if n := s.colours(canvas); n < 6 {
		t.Errorf("%d colours are drawn", n)
	}
	frames := func() string { return s.eval(`document.querySelector('` + canvas + `').dataset.frames`) }
	before := frames()
	s.eval(`document.querySelector('` + canvas + `').focus()`)
	s.eval(`document.querySelector('` + canvas +
		`').dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowLeft', bubbles: true}))`)
	s.until("it turns by key", `document.querySelector('`+canvas+`').dataset.frames !== '`+before+`'`)

	taken := func(n int) string {
		return fmt.Sprintf(`document.querySelector('%s').dataset.taken === '%d'`, canvas, n)
	}
	s.choose("[data-test=take]")
	s.until("a part is off", taken(1))
	s.choose("[data-test=take]")
	s.until("another is off", taken(2))
	s.choose("[data-test=put-back]")
	s.until("it is back", taken(1))
	s.eval(`[...document.querySelectorAll('[data-test=block] .parts button')]` +
		`.find(b => b.innerText.includes('Rump cap')).click()`)
	s.until("a part is read", `document.querySelector('[data-test=read]')?.innerText.startsWith('Rump cap, 0.957')`+
		` || document.querySelector('[data-test=read]')?.innerText.startsWith('Rump cap, 0.96')`)
	const saw = `document.querySelectorAll('[data-test=block] .p-slider-handle')[1]`
	s.eval(saw + `.dispatchEvent(new KeyboardEvent('keydown', {code: 'ArrowRight', key: 'ArrowRight', bubbles: true}))`)
	s.until("it is sawn", `document.querySelector('[data-test=block]').innerText.includes('Sawn at 5 mm')`)

	// without anything that draws in space the slices stand for it
	s.MustEvalOnNewDocument(`HTMLCanvasElement.prototype.getContext = () => null`)
	s.MustReload()
	s.until("it says so", "document.querySelector('[data-test=flat]')")
	s.until("and shows the slices", "document.querySelectorAll('[data-test=fan] .slice').length > 4")
}

// Slices on the page of a plan and of a comparison: which hold a hard line, where to stop.
func TestSlicesOfAStraightWay(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	var l struct {
		PieceIDs []string `json:"piece_ids"`
	}
	a.api("POST", "/lots", map[string]any{"atlas_id": "beef.striploin", "pieces": 1, "weight": "5.6", "weight_unit": "kg",
		"price": "16.80", "price_per": "kg", "slaughtered_on": a.day(24), "packed_on": a.day(22), "supplier": "A croft",
		"lot_number": "SLICES-1", "findings": []string{}}, &l)
	s := a.show(b, "/plan/"+l.PieceIDs[0], 1280, 900)
	s.until("the slices are offered", "document.querySelector('[data-test=sliced]')")
	s.eval("document.querySelector('[data-test=sliced]').open = true")
	s.says("4 of 15 slices hold a hard line, where striploin eye and vein end meet.")
	s.says("Where to stop: 303 mm from the rib end, after 10 slices; there the vein end comes in.")
	s.until("the slices are there", "document.querySelectorAll('[data-test=straight] .slice').length === 15")
	s.eval("document.querySelectorAll('[data-test=straight] .slice')[12].click()")
	s.says("A hard line runs through it.")
}

// What is worth more and what eats better, side by side: a dot for each product, read by touch.
func TestAPlateForTheEye(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	a.priced()
	b, _ := open(t, "")
	s := a.show(b, "/plan/"+a.received("PLATES-1"), 1280, 900)
	s.until("it is offered", "document.querySelector('[data-test=plated]')")
	s.eval("document.querySelector('[data-test=plated]').open = true")
	s.until("dots of both ways are there", "document.querySelectorAll('[data-test=plates] .filled').length > 3 && "+
		"document.querySelectorAll('[data-test=plates] .open').length > 0")
	s.eval("document.querySelector('[data-test=plates] .dot').dispatchEvent(new MouseEvent('click', {bubbles: true}))")
	s.says("the worst in it is")
}
