package browser

import (
	"fmt"
	"testing"
)

// A recipe is written, scaled and costed, with its label and allergens; what is wrong is said at its field; changed and
// taken out of use. A product gets the shop's own name, which its cooking card carries with the lawful one.
func TestRecipesAndMenuNames(t *testing.T) {
	t.Parallel()
	a := start(t, t.TempDir(), "127.0.0.1:0")
	b, _ := open(t, "")
	s := a.show(b, "/recipes", 1280, 900)
	s.says("Skerrow burger")
	s.choose("details.new summary")
	s.put("#recipe-new-name", "Harbour sausage")
	s.put("#recipe-new-price", "dear")
	s.put("#recipe-new-making_loss_pct", "2")
	s.put("#recipe-new-piece_g", "100")
	s.touchIn("details.new", "Add an ingredient")
	s.choosing("Ingredient 1", "Rusk")
	s.put("[aria-label='Amount of ingredient 1']", "100") // grams a kilogram
	s.touchIn("details.new", "Add")
	s.says("is not a number")
	s.put("#recipe-new-price", "12.50")
	s.touchIn("details.new", "Add")
	// opened as soon as it is there: for 10 kg of meat a kilogram of rusk, 11 kg in, 10.78 out
	s.until("it is scaled", "document.querySelector('[data-test=scaled]')?.innerText.includes('10.78 kg')")
	s.says("107 pieces")
	s.says("Contains: Cereals with gluten.")
	s.until("its label names the meat first and marks the allergen",
		"/Label:\\s+Beef \\(91.?%\\), Rusk\\./.test(document.querySelector('.open').innerText) && "+
			"[...document.querySelectorAll('.open .scale strong')].some((x) => x.innerText === 'Rusk')")
	s.put("#scale-weight", "5 kg")
	s.until("half of it", "document.querySelector('[data-test=scaled]').innerText.includes('5.39 kg')")
	s.touchIn(".open", "Take out of use")
	s.until("it is out of use", "[...document.querySelectorAll('[data-test=recipes] tr.void')].length === 1")
	s.MustClose()

	s = a.show(b, "/shop/prices?q=whole+tri-tip", 1280, 900)
	s.says("Whole tri-tip")
	s.choose("[aria-label='What you call Whole tri-tip; change']")
	s.put("[aria-label='What you call Whole tri-tip']", "Sunday corner")
	s.enter()
	s.says("sold as Sunday corner")
	s.MustClose()
	var shop struct{ ID string }
	a.api("GET", "/shop", nil, &shop)
	phone, _ := open(t, "")
	p := show(t, phone, fmt.Sprintf("%s/cook/beef.top_sirloin/tri_tip_whole?shop=%s", a.url, shop.ID), 390, 844)
	p.says("Sunday corner: 910 g")
	p.says("Whole tri-tip · Roast")
	p.MustClose()
	s = a.show(b, "/same-meat?find=sunday", 1280, 900)
	s.says("sold as Sunday corner")
}
