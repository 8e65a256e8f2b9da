package demo

import (
	"fmt"
	"time"

	"falda/internal/work/dayplan"
	"falda/internal/work/labels"
	"falda/internal/work/orders"
)

// ordering takes four orders, one of them a whole lamb cut to a household's wish, packs a part of one, and lays today
// out. Who orders is made up, like the rest of the scenario.
func (s *scene) ordering() error {
	for _, p := range []struct {
		piece, plan, price string
		aged, pieces       int
	}{{"lamb.leg_chump", "seamed", "10.40", 9, 2}, {"lamb.forequarter", "traditional", "8.20", 9, 1}} {
		lot, err := s.receive(early(s.day(1, 8), s.w.Now()), p.piece, p.aged, p.pieces, p.price)
		if err != nil {
			return err
		}
		for _, piece := range lot.Pieces {
			if err := s.plan(piece.PublicID, p.plan, early(s.day(1, 16), s.w.Now())); err != nil {
				return err
			}
		}
	}
	if _, err := s.w.Labels.SaveSettings(s.ctx, labels.Settings{Packer: "Skerrow Cutting Hall, Harbour Road, Skerrow",
		Country: island, Plant: "SK 12", Prefix: "21", Wide: 105, High: 74}); err != nil {
		return err
	}
	from := shift(s.w.Now())
	soon := from.Add(4 * time.Hour) // after midnight it is the day after
	kg := func(key, weight string, packs, pieces int, note string) orders.NewLine {
		return orders.NewLine{Key: key, Weight: weight, Unit: "kg", Packs: packs, Pieces: pieces, Note: note}
	}
	day := func(ahead int) string { return s.today.AddDate(0, 0, ahead).Format(time.DateOnly) }
	list := []orders.NewOrder{
		{Customer: "Skerrow ferry, the galley", Day: soon.Format(time.DateOnly), Time: soon.Format("15:04"),
			Note: "For the evening crossing", Lines: []orders.NewLine{kg("beef.heart_steak", "0.44", 2, 2, "about 220 g each"),
				kg("lamb.topside_portion", "0.5", 1, 0, "")}},
		{Customer: "Cottage hospital, the kitchen", Day: day(1), Time: "09:30", Lines: []orders.NewLine{
			kg("beef.stew", "1.2", 3, 0, "small dice"), kg("lamb.stew", "0.8", 2, 0, "")}},
		{Customer: "The lighthouse mess", Day: day(4), Time: "12:00", Lines: []orders.NewLine{
			kg("lamb.leg_roast", "2.2", 0, 0, "bone in"), kg("beef.cap_steak", "0.2", 3, 1, "")}},
		{Customer: "A household at Long Geo", Day: day(5), Time: "16:00", Note: "For the freezer, labelled",
			Whole: &orders.Whole{
				Carcass: "lamb.whole", Mass: 18_600_000, PerKg: "9.80", Cuts: []orders.Cut{
					{Piece: "lamb.leg_chump", Plan: "seamed", Count: 1, Pieces: 2, Note: "in packs for two"}}}},
	}
	for i := range list {
		list[i].ID = s.id()
		o, err := s.w.Orders.Save(s.as["head_cutter"], "", list[i])
		if err != nil {
			return fmt.Errorf("order of %s: %w", list[i].Customer, err)
		}
		switch i {
		case 0:
			err = s.packSome(o)
		case len(list) - 1:
			err = s.fromLamb(o)
		}
		if err != nil {
			return err
		}
	}
	return s.layOut(from)
}

// packSome packs what lies in stock of an order's first line.
func (s *scene) packSome(o orders.Order) error {
	there, err := s.w.Goods.Stock(s.ctx)
	if err != nil {
		return err
	}
	for _, t := range there.Tubs {
		if t.Key != o.Lines[0].Key || t.Left < 220_000 {
			continue
		}
		_, err := s.w.Orders.Pack(s.as["cutter"], o.PublicID, orders.Packed{ID: s.id(), Tub: t.String(), Weight: "0.225",
			Unit: "kg", Count: 1, Source: "scale"})
		return err
	}
	return nil
}

// fromLamb says that the lamb that hangs whole is cut for an order.
func (s *scene) fromLamb(o orders.Order) error {
	rail, err := s.w.Stock.Queue(s.ctx, "")
	if err != nil {
		return err
	}
	for _, c := range rail.Pieces {
		if c.Piece.ID == "lamb.whole" && c.Row.Breakdown == nil {
			_, err := s.w.Orders.SetPieces(s.as["head_cutter"], o.PublicID, []string{c.Row.Piece.PublicID})
			return err
		}
	}
	return nil
}

// shift is when work begins today: at eight, or where it is later than that at the next quarter of an hour.
func shift(now time.Time) time.Time {
	at := time.Date(now.Year(), now.Month(), now.Day(), 8, 0, 0, 0, time.UTC)
	if next := now.UTC().Truncate(15 * time.Minute).Add(15 * time.Minute); next.After(at) {
		at = next
	}
	return at
}

// layOut plans what is ready and planned for today.
func (s *scene) layOut(from time.Time) error {
	to := from.Add(8 * time.Hour)
	if end := s.today.Add(17*time.Hour + 55*time.Minute); to.After(end) { // not beyond midnight
		to = end
	}
	if from.After(to.Add(-time.Hour)) {
		from = to.Add(-time.Hour)
	}
	in := dayplan.Ask{Rules: dayplan.Rules{Clean: 10, CleanSaw: 10, Wash: 20}}
	people, err := s.w.Dayplan.Day(s.ctx, "")
	if err != nil {
		return err
	}
	who := map[string]string{}
	for _, n := range people.Cutters {
		who[n.Name] = n.ID
	}
	for _, p := range [][2]string{{"North", "Head cutter"}, {"Middle", "Cutter"}, {"South", "Apprentice"}} {
		in.Posts = append(in.Posts, dayplan.Post{Bench: s.benches[p[0]], Cutter: who[p[1]], From: from.Format("15:04"),
			To: to.Format("15:04")})
	}
	_, err = s.w.Dayplan.Make(s.as["head_cutter"], in, nil)
	return err
}
