package paper

import (
	"bytes"
	"fmt"
	"image"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/oned"
	"github.com/makiuchi-d/gozxing/qrcode"

	"falda/internal/core/label"
)

// harbour is a label with all that can stand on one.
func harbour() PackLabel {
	return PackLabel{Wide: 105, High: 100, Name: "Harbour steak", Lawful: "Rump heart steak",
		Ingredients: "Beef (93 %), rusk (WHEAT), salt", Origin: []string{"Origin: Skerrow", "Slaughtered in: Skerrow SK 7",
			"Cut in: Skerrow SK 12", "Reference: 26112801001"}, Storage: "Keep refrigerated at 4 °C or below.",
		UseBy: "3 December 2026", Lot: "26112801001", Net: "0.225 kg", Each: "19.90", Cost: "€4.48",
		EAN:  "210100100448" + string(label.CheckDigit("210100100448")),
		GS1:  "(01)09501101530003(3103)000225(17)261203(10)26112801001",
		Page: "https://cutting.example/cook/beef.top_sirloin/x", Packer: "Skerrow Cutting Hall, Harbour Road"}
}

// read decodes a code of a label's picture with a reader that has nothing to do with what drew it.
func read(t *testing.T, p label.Page, kind string) string {
	t.Helper()
	img, err := Picture(p)
	if err != nil {
		t.Fatal(err)
	}
	for _, i := range p.Items {
		if i.Kind != kind {
			continue
		}
		quiet := 2.6
		crop := image.Rect(int((i.X-quiet)*DotsPerMm), int((i.Y-0.2)*DotsPerMm), int((i.X+i.Wide+quiet)*DotsPerMm),
			int((i.Y+i.High+0.2)*DotsPerMm)).Intersect(img.Bounds())
		bits, err := gozxing.NewBinaryBitmapFromImage(img.SubImage(crop))
		if err != nil {
			t.Fatal(err)
		}
		reader := map[string]gozxing.Reader{label.KindEAN13: oned.NewEAN13Reader(), label.KindGS1: oned.NewCode128Reader(),
			label.KindQR: qrcode.NewQRCodeReader()}[kind]
		found, err := reader.Decode(bits, map[gozxing.DecodeHintType]any{gozxing.DecodeHintType_TRY_HARDER: true,
			gozxing.DecodeHintType_ASSUME_GS1: true})
		if err != nil {
			t.Fatalf("the %s cannot be read: %v", kind, err)
		}
		return found.GetText()
	}
	t.Fatalf("there is no %s on the label", kind)
	return ""
}

// What is printed is read again: the article number with its price, the GS1 elements with the function character before
// them, and the address of the cooking card.
func TestCodesAreReadAgain(t *testing.T) {
	p, err := LayPack(harbour())
	if err != nil {
		t.Fatal(err)
	}
	if got := read(t, p, label.KindEAN13); got != harbour().EAN {
		t.Errorf("the EAN-13 reads %s", got)
	}
	want := "]C1" + strings.NewReplacer("(", "", ")", "").Replace(harbour().GS1)
	if got := read(t, p, label.KindGS1); got != want {
		t.Errorf("the GS1-128 reads %q, want %q", got, want)
	}
	if got := read(t, p, label.KindQR); got != harbour().Page {
		t.Errorf("the QR code reads %s", got)
	}
	rng := rand.New(rand.NewPCG(4, 9))
	for range 25 {
		grams := 1 + rng.IntN(99_999)
		ean, err := label.InStore{Prefix: fmt.Sprint(20 + rng.IntN(10)), Item: fmt.Sprintf("%05d", rng.IntN(100_000)),
			WeightG: &grams}.EAN13(2)
		if err != nil {
			t.Fatal(err)
		}
		elements, err := label.Pack{GTIN: "09501101530003", WeightG: grams, Lot: fmt.Sprint(rng.IntN(1_000_000)),
			UseBy: time.Date(2026, 12, 1+rng.IntN(28), 0, 0, 0, 0, time.UTC)}.Elements()
		if err != nil {
			t.Fatal(err)
		}
		in := harbour()
		in.EAN, in.GS1 = ean, label.Text(elements)
		if p, err = LayPack(in); err != nil {
			t.Fatal(err)
		}
		if got := read(t, p, label.KindEAN13); got != ean {
			t.Errorf("the EAN-13 %s reads %s", ean, got)
		}
		if got := read(t, p, label.KindGS1); got != "]C1"+strings.NewReplacer("(", "", ")", "").Replace(in.GS1) {
			t.Errorf("the GS1-128 %s reads %s", in.GS1, got)
		}
	}
}

// Letters are never smaller than the law allows: what does not fit is refused, and nothing stands off the label or on
// something else.
func TestLabelsHoldWhatTheySay(t *testing.T) {
	for _, size := range [][2]float64{{105, 100}, {105, 80}, {120, 90}} {
		in := harbour()
		in.Wide, in.High = size[0], size[1]
		p, err := LayPack(in)
		if err != nil {
			t.Logf("%v: %v", size, err)
			continue
		}
		var all strings.Builder
		for _, i := range p.Items {
			if i.Kind == label.KindText {
				if i.Size < smallest {
					t.Errorf("%q is %.2f mm high", i.Text, i.Size)
				}
				fmt.Fprintln(&all, i.Text)
			}
			if i.X < 0 || i.Y < 0 || i.X+i.Wide > p.Wide || i.Y+i.High > p.High {
				t.Errorf("%v: %q stands off the label", size, i.Text)
			}
		}
		for _, want := range []string{"Harbour steak", "Rump heart steak", "WHEAT", "Origin: Skerrow",
			"Use by 3 December 2026", "0.225 kg", "€4.48", "Keep refrigerated"} {
			if !strings.Contains(all.String(), want) {
				t.Errorf("%v: the label does not say %q", size, want)
			}
		}
	}
	in := harbour()
	in.High = 45
	if _, err := LayPack(in); err == nil {
		t.Error("all of it fits on 45 mm, in letters that can be read")
	}
}

// Labels come as a PDF of their own size, and as sheets of A4.
func TestLabelPDFs(t *testing.T) {
	p, err := LayPack(harbour())
	if err != nil {
		t.Fatal(err)
	}
	for _, onSheet := range []bool{false, true} {
		var out bytes.Buffer
		if err := Labels(&out, []label.Page{p, p, p, p, p}, onSheet); err != nil ||
			!bytes.HasPrefix(out.Bytes(), []byte("%PDF")) {
			t.Errorf("on a sheet %v: %v", onSheet, err)
		}
		pages := bytes.Count(out.Bytes(), []byte("/Type /Page\n"))
		if want := map[bool]int{false: 5, true: 3}[onSheet]; pages != want { // one column of two on A4
			t.Errorf("on a sheet %v: %d pages, want %d", onSheet, pages, want)
		}
	}
}
