package atlas

// Method is a cooking method. Quick ones cook tender muscles in minutes; a muscle below grade 3 by every quick method
// is not a steak.
type Method struct {
	ID    string
	Name  string
	Quick bool
}

// Methods lists the cooking methods, quick ones first, in the order in which they are shown.
var Methods = []Method{
	{"grill", "Grill", true},
	{"pan_fry", "Pan-fry", true},
	{"stir_fry", "Stir-fry", true},
	{"thin_slice", "Thin slice", true},
	{"roast", "Roast", false},
	{"slow_roast", "Slow roast", false},
	{"smoke", "Smoke", false},
	{"braise", "Braise", false},
	{"stew", "Stew", false},
	{"cure_cook", "Cure and simmer", false},
	{"mince", "Mince", false},
}

// FindMethod gives a method by id.
func FindMethod(id string) (Method, bool) {
	for _, m := range Methods {
		if m.ID == id {
			return m, true
		}
	}
	return Method{}, false
}

// KnownMethod says whether id is one of Methods.
func KnownMethod(id string) bool { _, ok := FindMethod(id); return ok }
