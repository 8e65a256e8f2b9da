package device

import (
	"net"
	"reflect"
	"testing"
	"time"

	"falda/internal/core/label"
)

// A label that is sent over the line is what comes out of the printer, to the hundredth of a millimetre and with every
// letter; without paper nothing comes out, and the error says so.
func TestPrinterPrintsWhatIsSent(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	type printed struct {
		page   label.Page
		copies int
	}
	came := make(chan printed, 4)
	sim := &SimPrinter{Every: 20 * time.Millisecond, Printed: func(p label.Page, n int) { came <- printed{p, n} }}
	go func() { _ = sim.Serve(t.Context(), l) }()
	p := ConnectPrinter(t.Context(), l.Addr().String())
	for s, changed := p.Reading(); s.Status != OK; s, changed = p.Reading() {
		<-changed
	}
	page := label.Page{Wide: 105, High: 80, Items: []label.Item{
		{Kind: label.KindText, X: 3, Y: 7.25, Size: 3.4, Bold: true, Text: "Harbour  steak, £ € é  2 spaces"},
		{Kind: label.KindText, X: 102, Y: 20, Size: 2.5, Right: true, Text: "€4.48"},
		{Kind: label.KindLine, X: 3, Y: 30, Wide: 99, High: 0.3},
		{Kind: label.KindEAN13, X: 5, Y: 60, Wide: 32, High: 12, Text: "2101001004486"},
		{Kind: label.KindGS1, X: 5, Y: 40, Wide: 80, High: 12, Text: "(01)09501101530003(10)A-1/2"},
		{Kind: label.KindQR, X: 85, Y: 60, Wide: 15, High: 15, Text: "https://cutting.example/cook/a/b?x=1"}}}
	if err := p.Print(t.Context(), page, 3); err != nil {
		t.Fatal(err)
	}
	if got := <-came; got.copies != 3 || !reflect.DeepEqual(got.page, page) {
		t.Errorf("printed %d of %+v, want 3 of %+v", got.copies, got.page, page)
	}
	if err := p.Command(t.Context(), "paper out"); err != nil {
		t.Fatal(err)
	}
	if err := p.Print(t.Context(), page, 1); err == nil || len(came) > 0 {
		t.Errorf("without paper it printed: %v", err)
	}
	if err := p.Command(t.Context(), "text 1 2"); err == nil {
		t.Error("half a command was taken")
	}
}

// The reader of commands takes any bytes and never panics.
func FuzzPrinterCommand(f *testing.F) {
	for _, line := range []string{"page 100 60", "text 1 2 3 bold left x", "code qr 1 2 3 4 x", "print 2", "",
		"line 1 2 3 4"} {
		f.Add(line)
	}
	f.Fuzz(func(t *testing.T, line string) {
		p := &SimPrinter{}
		p.obey("page 100 60")
		if answer := p.obey(line); answer == "" {
			t.Errorf("%q has no answer", line)
		}
	})
}
