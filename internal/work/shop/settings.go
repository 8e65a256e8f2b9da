package shop

import (
	"context"
	"fmt"
	"math"
	"net/url"
	"slices"
	"strings"

	"golang.org/x/text/currency"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// Settings are what an owner sets for a shop.
type Settings struct {
	Name, Market, Currency, Unit string
	TimeZone                     string // IANA name; empty to leave it as it is
	LabourRate, PackagingPerKg   string // per hour, per kg
	DiscardPerKg                 string // per kg; empty to leave it as it is
	// per hour; who is not in it costs the labour rate; nil to leave it as it is
	LabourByRole      map[string]string
	Seasons           []value.Season // nil to leave them as they are
	LossLimitKnifePct float64
	LossLimitSawPct   float64
	DivisionG         float64 // taken for typed weights
	LotPrefix         string
	Address           *string // by which other devices reach the program; nil to leave it as it is
	IdleMinutes       int     // after which a bench's clock stops by itself; 0 never
	ScaleCheckDays    *int    // after which a scale is to be checked; 0 never, nil to leave it as it is
	Version           int     // of the settings as they were seen
}

// Usual are the settings a new shop starts with beside what is asked.
var Usual = Settings{Market: "house", TimeZone: defaultZone, LossLimitKnifePct: 1.5, LossLimitSawPct: 2.5, DivisionG: 5,
	PackagingPerKg: "0", DiscardPerKg: "0", LabourRate: "0", LotPrefix: "L-", IdleMinutes: 15}

// Markets lists whose names the atlas knows: the house's first, then the markets by their codes.
func (s *Service) Markets() []string {
	seen := map[string]bool{}
	for _, p := range s.atlas.Pieces {
		for market := range p.Names {
			seen[market] = true
		}
		for _, m := range p.Muscles {
			for market := range m.Names {
				seen[market] = true
			}
		}
	}
	delete(seen, "house")
	out := make([]string, 0, len(seen)+1)
	for market := range seen {
		out = append(out, market)
	}
	slices.Sort(out)
	return append([]string{"house"}, out...)
}

// CheckSettings reads settings into a shop's row.
func (s *Service) CheckSettings(in Settings, row *store.Shop) error {
	var faults fault.List
	row.Name, row.LotPrefix = strings.TrimSpace(in.Name), strings.TrimSpace(in.LotPrefix)
	faults.Add("name", fault.Text(row.Name, 120, true))
	faults.Add("lot_prefix", fault.Text(row.LotPrefix, 12, false))
	if row.Market = in.Market; !slices.Contains(s.Markets(), in.Market) {
		faults.Add("market",
			fault.New("", "unknown", fault.Quote(in.Market)+" is not a market of the atlas",
				"Use one of "+strings.Join(s.Markets(), ", ")+"."))
	}
	row.Currency = in.Currency
	if _, err := currency.ParseISO(in.Currency); err != nil || strings.ToUpper(in.Currency) != in.Currency {
		faults.Add("currency",
			fault.New("", "unknown", fault.Quote(in.Currency)+" is not a currency of ISO 4217",
				"Use its three capital letters, such as EUR."))
	}
	if in.TimeZone != "" {
		_, err := zoneOf(in.TimeZone)
		faults.Add("time_zone", err)
		row.TimeZone = in.TimeZone
	}
	if row.WeightUnit = in.Unit; in.Unit != "kg" && in.Unit != "lb" {
		faults.Add("weight_unit",
			fault.New("", "unknown_unit", fault.Quote(in.Unit)+" is not a unit a shop weighs in", "Use kg or lb."))
	}
	if in.Address != nil {
		var err error
		row.Address, err = readAddress(*in.Address)
		faults.Add("address", err)
	}
	in.readRates(row, &faults)
	in.readSeasons(row, &faults)
	in.readLimits(row, &faults)
	return faults.Err()
}

// readAddress reads an address such as https://falda.shop.example: a scheme and a host, and nothing after it.
func readAddress(text string) (string, error) {
	text = strings.TrimSuffix(strings.TrimSpace(text), "/")
	if text == "" {
		return "", nil
	}
	u, err := url.Parse(text)
	if err != nil || (u.Scheme != "http" && u.Scheme != "https") || u.Host == "" || u.Path != "" || u.RawQuery != "" ||
		u.Fragment != "" || u.User != nil || len(text) > 200 {
		return "", fault.New("", "not_an_address", fault.Quote(text)+" is not such an address",
			"Enter how a phone reaches this program, such as http://192.168.1.20:8087 or https://falda.example.")
	}
	return text, nil
}

// readRates reads what an hour and a kilogram cost; what is left out stays as it is.
func (in Settings) readRates(row *store.Shop, faults *fault.List) {
	rate := func(field, text string, into *string) {
		m, err := measure.ParseMoney(text)
		switch {
		case err != nil:
			faults.Add(field, err)
		case m.Sign() < 0:
			faults.Add(field, fault.New("", "negative", "is below zero", "Enter zero or more."))
		case m.Cmp(measure.MaxRate) > 0:
			faults.Add(field, fault.New("", "too_large", "is above 10,000,000", "Check the decimal point."))
		case m.Exact() != nil:
			faults.Add(field, m.Exact())
		default:
			*into = m.Text(measure.PriceDecimals)
		}
	}
	rate("labour_rate", in.LabourRate, &row.LabourRate)
	rate("packaging_per_kg", in.PackagingPerKg, &row.PackagingPerKg)
	if in.DiscardPerKg != "" {
		rate("discard_per_kg", in.DiscardPerKg, &row.DiscardPerKg)
	}
	if in.LabourByRole != nil {
		row.LabourByRole = map[string]string{}
	}
	for role, text := range in.LabourByRole {
		if !slices.ContainsFunc(Roles, func(r Role) bool { return r.ID == role }) {
			faults.Add("labour_by_role",
				fault.New("", "unknown", fault.Quote(role)+" is not a role", "Use the roles of the shop."))
			continue
		}
		if strings.TrimSpace(text) != "" {
			var read string
			rate("labour_by_role."+role, text, &read)
			row.LabourByRole[role] = read
		}
	}
}

// readSeasons reads the seasons, where they are given.
func (in Settings) readSeasons(row *store.Shop, faults *fault.List) {
	if in.Seasons != nil {
		row.Seasons = slices.Clone(in.Seasons)
	}
	for i := range row.Seasons {
		row.Seasons[i].Name = strings.TrimSpace(row.Seasons[i].Name)
		faults.Add(fmt.Sprintf("seasons[%d].name", i), fault.Text(row.Seasons[i].Name, 40, true))
		if slices.ContainsFunc(row.Seasons[:i], func(other value.Season) bool {
			return other.Name != row.Seasons[i].Name && words.SameName(other.Name, row.Seasons[i].Name)
		}) {
			faults.Add(fmt.Sprintf("seasons[%d].name", i),
				fault.New("", "twice", "is the name of another season, but for accents or capitals",
					"Give each season its own name."))
		}
	}
	if len(row.Seasons) > 12 {
		faults.Add("seasons", fault.New("", "too_many", "are more than 12", "Take fewer."))
	} else {
		faults.Add("", value.CheckSeasons(row.Seasons))
	}
}

// readLimits reads what is allowed to be lost, the scale's division and when a bench is idle.
func (in Settings) readLimits(row *store.Shop, faults *fault.List) {
	within := func(field string, v, low, high float64, unit string) float64 {
		if math.IsNaN(v) || v < low || v > high {
			faults.Add(field,
				fault.New("", "out_of_range", fmt.Sprintf("must be from %g to %g %s", low, high, unit),
					"Enter a number in between."))
		}
		return math.Round(v*100) / 100
	}
	row.LossLimitKnifePct = within("loss_limit_knife_pct", in.LossLimitKnifePct, 0.1, 20, "%")
	row.LossLimitSawPct = within("loss_limit_saw_pct", in.LossLimitSawPct, 0.1, 20, "%")
	row.DivisionMg = int64(math.Round(within("division_g", in.DivisionG, 0.1, 1000, "g") * 1000))
	if in.ScaleCheckDays != nil {
		row.ScaleCheckDays = int(within("scale_check_days", float64(*in.ScaleCheckDays), 0, 366, "days"))
	}
	row.IdleMinutes = int(within("idle_minutes", float64(in.IdleMinutes), 0, 240, "minutes"))
}

func settingsOf(row store.Shop) Settings {
	return Settings{TimeZone: row.TimeZone, Name: row.Name, Market: row.Market, Currency: row.Currency,
		Unit: row.WeightUnit, LabourRate: row.LabourRate, PackagingPerKg: row.PackagingPerKg, DiscardPerKg: row.DiscardPerKg,
		LabourByRole: row.LabourByRole, Seasons: row.Seasons, LossLimitKnifePct: row.LossLimitKnifePct,
		LossLimitSawPct: row.LossLimitSawPct, DivisionG: measure.Mass(row.DivisionMg).Grams(), LotPrefix: row.LotPrefix,
		IdleMinutes: row.IdleMinutes, Address: &row.Address, ScaleCheckDays: &row.ScaleCheckDays,
		Version: row.Version}
}

// SaveSettings sets the settings of the caller's shop. The currency stands once there are prices or lots in it: amounts
// are not converted.
func (s *Service) SaveSettings(ctx context.Context, in Settings) error {
	defer s.Wake()
	shop, err := s.Current(ctx)
	if err != nil {
		return err
	}
	row := shop.Shop
	if err := s.CheckSettings(in, &row); err != nil {
		return err
	}
	row.Version = in.Version
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		was, err := tx.LockShop(ctx, row.ID) // nobody prices anything in a season that goes
		if err != nil {
			return audit.Change{}, err
		}
		if row.Currency != was.Currency {
			fixed, err := tx.HasAmounts(ctx, row.ID)
			if err != nil {
				return audit.Change{}, err
			}
			if fixed {
				return audit.Change{},
					fault.NewConflict("currency", "fixed", "cannot change: there are prices or lots in "+was.Currency,
						"Add a shop in the other currency; amounts are not converted.")
			}
		}
		if err := seasonsKept(ctx, tx, row); err != nil {
			return audit.Change{}, err
		}
		if row.TimeZone != was.TimeZone { // the days of what is finished are others now
			if err := tx.DropShopResults(ctx, row.ID); err != nil {
				return audit.Change{}, err
			}
		}
		before, after := differences(settingsOf(was), settingsOf(row))
		if len(after) == 0 && row.Version == was.Version {
			return audit.Change{}, nil
		}
		return audit.Change{Action: "shop.set", Subject: was.PublicID, SubjectName: was.Name, Was: before, Became: after},
			tx.SaveShop(ctx, row)
	})
}

// seasonsKept refuses to let a season go that prices or demand hang on.
func seasonsKept(ctx context.Context, tx *store.Store, row store.Shop) error {
	used, err := tx.SeasonsUsed(ctx, row.ID)
	if err != nil {
		return err
	}
	for _, name := range used {
		if !slices.ContainsFunc(row.Seasons, func(s value.Season) bool { return s.Name == name }) {
			return fault.NewConflict("seasons", "in_use", "must keep “"+name+"”: there are prices or demand of it",
				"Take those out first; its days may change.")
		}
	}
	return nil
}

// differences gives the settings that are not the same, before and after.
func differences(a, b Settings) (before, after map[string]any) {
	before, after = map[string]any{}, map[string]any{}
	for _, f := range []struct {
		name string
		a, b any
	}{
		{"name", a.Name, b.Name}, {"time_zone", a.TimeZone, b.TimeZone}, {"market", a.Market, b.Market},
		{"currency", a.Currency, b.Currency}, {"weight_unit", a.Unit, b.Unit}, {"labour_rate", a.LabourRate, b.LabourRate},
		{"packaging_per_kg", a.PackagingPerKg, b.PackagingPerKg},
		{"loss_limit_knife_pct", a.LossLimitKnifePct, b.LossLimitKnifePct},
		{"loss_limit_saw_pct", a.LossLimitSawPct, b.LossLimitSawPct}, {"division_g", a.DivisionG, b.DivisionG},
		{"lot_prefix", a.LotPrefix, b.LotPrefix}, {"idle_minutes", a.IdleMinutes, b.IdleMinutes},
		{"discard_per_kg", a.DiscardPerKg, b.DiscardPerKg}, {"address", said(a.Address), said(b.Address)},
		{"scale_check_days", said(a.ScaleCheckDays), said(b.ScaleCheckDays)},
		{"labour_by_role", roleRates(a.LabourByRole), roleRates(b.LabourByRole)},
		{"seasons", fmt.Sprint(a.Seasons), fmt.Sprint(b.Seasons)},
	} {
		if f.a != f.b {
			before[f.name], after[f.name] = f.a, f.b
		}
	}
	return before, after
}

// roleRates are rates by role in words, in the order of the roles.
func roleRates(rates map[string]string) string {
	var out []string
	for _, r := range Roles {
		if text := rates[r.ID]; text != "" {
			out = append(out, r.Name+" "+text)
		}
	}
	return strings.Join(out, ", ")
}

// NewShop makes a shop with its benches.
func (s *Service) NewShop(ctx context.Context, tx *store.Store, in NewShop) (store.Shop, error) {
	settings := Usual
	settings.Name, settings.Currency, settings.Unit = in.Name, in.Currency, in.Unit
	for _, x := range []struct {
		text string
		into *string
	}{{in.LabourRate, &settings.LabourRate}, {in.PackagingPerKg, &settings.PackagingPerKg},
		{in.LotPrefix, &settings.LotPrefix}, {s.NamesOf(in.Market), &settings.Market},
		{in.DiscardPerKg, &settings.DiscardPerKg}, {in.TimeZone, &settings.TimeZone}} {
		if x.text != "" {
			*x.into = x.text
		}
	}
	week := 7
	settings.ScaleCheckDays = &week
	settings.LabourByRole, settings.Seasons = in.LabourByRole, in.Seasons
	row := store.Shop{PublicID: store.NewID(), Demo: in.Demo, Example: in.Example, Version: 1, CreatedAt: s.now()}
	var faults fault.List
	faults.Add("", s.CheckSettings(settings, &row))
	if len(in.Benches) == 0 {
		in.Benches = []string{"Bench 1"}
	}
	for i, name := range in.Benches {
		in.Benches[i] = strings.TrimSpace(name)
		faults.Add("benches", fault.Text(in.Benches[i], 60, true))
		if slices.ContainsFunc(in.Benches[:i], func(other string) bool { return words.SameName(other, in.Benches[i]) }) {
			faults.Add("benches",
				fault.New("", "duplicate_name", "holds "+fault.Quote(name)+" twice, but for accents or capitals",
					"Give each bench its own name."))
		}
	}
	if len(in.Benches) > 50 {
		faults.Add("benches", fault.New("", "too_many", "are more than 50", "Add the others later."))
	}
	if !(in.TaxPct >= 0 && in.TaxPct <= 100) {
		faults.Add("tax_pct", fault.New("", "out_of_range", "must be from 0 to 100", "Enter the tax in percent."))
	}
	if err := faults.Err(); err != nil {
		return row, err
	}
	if err := tx.CreateShop(ctx, &row); err != nil {
		return row, err
	}
	if in.TaxPct > 0 {
		counter := store.Market{PublicID: store.NewID(), ShopID: row.ID, Name: "Counter", TaxPct: in.TaxPct, Main: true,
			Active: true, Version: 1}
		if err := tx.CreateMarket(ctx, &counter); err != nil {
			return row, err
		}
	}
	for _, name := range in.Benches {
		if err := tx.CreateBench(ctx,
			&store.Bench{PublicID: store.NewID(), ShopID: row.ID, Name: name, Active: true, Version: 1}); err != nil {
			return row, err
		}
	}
	return row, nil
}

// AddShop makes another shop in the installation, with the caller as its owner. It answers its id.
func (s *Service) AddShop(ctx context.Context, in NewShop) (string, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return "", err
	}
	in.Demo = false
	var row store.Shop
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		if row, err = s.NewShop(ctx, tx, in); err != nil {
			return audit.Change{}, err
		}
		m := store.Member{PublicID: store.NewID(), ShopID: row.ID, PersonID: who.PersonID, Name: who.Name, Role: "owner",
			Active: true, Version: 1, CreatedAt: s.now()}
		m.JoinedAt = &m.CreatedAt
		return audit.Change{Action: "shop.added", Subject: row.PublicID, SubjectName: row.Name}, tx.CreateMember(ctx, &m)
	})
	return row.PublicID, err
}

// said is a value that may be left out.
func said[T any](v *T) T {
	if v == nil {
		var none T
		return none
	}
	return *v
}
