package browser

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// sold is how the shop sells, as the program gives it.
type sold struct {
	Products []struct {
		Name    string
		Takings string
	}
	Files  []struct{ Undone bool }
	Trials []struct{ Verdict string }
}

// The till is fetched, a file is read in whose names and columns nobody knew, and taken back; what sells becomes demand
// with a touch; a trial of names is begun and stopped.
func TestSalesFromTheTillToDemand(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/sales", 1280, 900)
	s.says("packs in a week")
	var before, after sold
	a.api("GET", "/sales", nil, &before)
	s.choose("[data-test='till-fetch']")
	s.says("Read in before:")
	s.choose("[data-test='till-keep']")
	s.until("it is kept", "document.querySelector('[data-test=till-said]')?.innerText.includes('kept')")
	if a.api("GET", "/sales", nil, &after); len(after.Files) != len(before.Files)+1 {
		t.Errorf("%d files, %d before", len(after.Files), len(before.Files))
	}

	path := filepath.Join(t.TempDir(), "other.csv")
	day := time.Now().UTC().AddDate(0, 0, -1).Format("02.01.2006")
	file := "wann;was;wieviel\n" + day + ";SHIN SLC;8,20\n" + day + ";Bread;2,10\n"
	if err := os.WriteFile(path, []byte(file), 0o600); err != nil {
		t.Fatal(err)
	}
	s.MustElement("input[type=file]").MustSetFiles(path)
	s.says("Say in which columns these stand")
	for _, column := range [][2]string{{"day", "wann"}, {"name", "was"}, {"amount", "wieviel"}} {
		s.picks("#till-"+column[0], column[1])
		s.until(column[1]+" is said", "document.querySelector('#till-"+column[0]+"')?.innerText.includes('"+column[1]+"')")
	}
	s.until("its names are asked for", "document.querySelector('#means-SHIN-SLC')")
	s.picks("#means-SHIN-SLC", "beef.shin_slice")
	s.until("it is known", "!document.querySelector('#means-SHIN-SLC')")
	s.picks("#means-Bread", "(not of the counter)")
	s.says("not of the counter")
	// the till's day was read in with the other file
	s.says("this day was read in before")
	s.touch("Keep nothing")

	s.choose("[data-product='beef.heart_steak']")
	s.until("its weeks are drawn", "document.querySelector('[data-test=plot][data-drawn=true] svg path')")
	s.choose("[data-test='as-demand']")
	s.says("a week is its demand now in")
	var demands []struct {
		ProductKey string  `json:"product_key"`
		WeekG      float64 `json:"week_g"`
	}
	a.api("GET", "/demands", nil, &demands)
	found := 0
	for _, d := range demands {
		if d.ProductKey == "beef.heart_steak" && d.WeekG > 14000 && d.WeekG < 25000 {
			found++
		}
	}
	if found != 1 {
		t.Errorf("its demands: %+v", demands)
	}
	s.touch("Undo")
	s.until("it is as it was", "document.querySelector('.product')?.innerText.includes('14.0')")

	s.choose("[data-test='naming-open']")
	s.put("#naming-a", "Thick steak")
	s.choose("[data-test='naming-begin']")
	s.says("Is empty")
	s.touch("Leave it")
	s.touch("Stop")
	s.touch("Stop it")
	s.says("The trial is stopped.")
	s.until("the trial has ended",
		"document.querySelector('[data-test=naming-trial]').innerText.includes('stopped, from')")
}

// What presses is reduced with a reason, from the page that says how much; it is taken back. The counter is laid out, a
// page hung above it, and read from across the shop.
func TestReducedAndShownAboveTheCounter(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/stock/reduce", 1280, 900)
	s.until("there is advice", "document.querySelectorAll('[data-reduce]').length > 5")
	s.eval("document.querySelectorAll('[data-reduce]')[0].click() ?? 1")
	s.until("its days are told", "document.querySelector('.more table')")
	s.eval("[...document.querySelectorAll('.more button')].find(b => b.innerText.startsWith('50')).click() ?? 1")
	s.says("reduced by 50")
	s.until("the price is lower", "[...document.querySelectorAll('.more button')].some(b => b.innerText === "+
		"'Full price again')")
	s.touch("Undo")
	s.until("the price is what it was", "![...document.querySelectorAll('.more button')].some(b => b.innerText === "+
		"'Full price again')")

	s = a.show(b, "/counter", 1280, 900)
	s.until("trays stand in it", "document.querySelectorAll('.tray').length > 4")
	s.choose(".room summary")
	s.put("#counter-tray_wide_cm", "300")
	s.choose("[data-test='counter-save']")
	s.says("Must be from 10 to 100")
	s.put("#counter-tray_wide_cm", "35")
	s.choose("[data-test='counter-save']")
	s.says("the counter is laid out so")
	s.choose("[data-test='above-make']")
	s.until("there is a link", "document.querySelector('[data-test=above-link]')")
	link := s.text("[data-test='above-link']")
	above := a.show(b, link[strings.Index(link, "/above/"):], 1920, 1080)
	above.says("Skerrow Cutting Hall")
	above.says("20\u00a0% off")
	if text := above.text("body"); strings.Contains(text, "croft") || strings.Contains(text, "SK-") {
		t.Errorf("it shows what is the shop's own:\n%s", text)
	}
	s.touch("Take it down")
	s.eval("[...document.querySelectorAll('[role=alertdialog] button')].find(b => b.innerText === 'Take it down')" +
		".click() ?? 1")
	s.says("The page above the counter is down.")

	s = a.show(b, "/instead?of=beef.striploin_steak", 1280, 900)
	s.says("Instead of Striploin steak")
	s.until("there is something cheaper", "document.querySelectorAll('[data-test=instead] tbody tr').length > 3")
}
