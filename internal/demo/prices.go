package demo

import (
	"fmt"

	"falda/internal/work/pricing"
)

// prices are the counter's, per kilogram, for what has a price of its own.
var prices = map[string]string{
	"beef.rump_steak": "17.90", "beef.dice": "13.90", "beef.mince_trim": "9.90", "beef.fat": "0.60",
	"beef.heart_steak": "19.90", "beef.side_medallion": "26.50", "beef.cap_steak": "23.90",
	"beef.cap_steak_along": "23.90", "beef.tri_tip_whole": "16.90", "beef.strips": "16.50",
	"beef.lean_mince_trim": "11.50", "beef.t_bone": "30.90", "beef.porterhouse": "32.90", "beef.rib_end_steak": "27.90",
	"beef.bone_in_strip": "28.90", "beef.striploin_steak": "31.90", "beef.eye_steak": "34.90", "beef.strip_steak": "33.90",
	"beef.strip_medallion": "34.90", "beef.strip_roast": "29.90", "beef.vein_steak": "21.90", "beef.fillet": "49.90",
	"beef.whole_fillet": "48.90", "beef.fillet_medallion": "52.90", "beef.fillet_steak_on": "45.90",
	"beef.fillet_steak": "53.90", "beef.fillet_strap_on": "39.90", "beef.head_steak": "42.90",
	"beef.centre_roast": "52.90", "beef.fillet_tips": "34.90", "beef.wing_kebab": "36.90", "beef.ribeye_steak": "33.90",
	"beef.eye_medallion": "35.90", "beef.rib_cap_steak": "38.90", "beef.long_bone_chop": "27.90",
	"beef.loin_end_roast": "25.90", "beef.chuck_end_roast": "21.90", "beef.frenched_roast": "28.90",
	"beef.flat_iron": "23.90", "beef.shoulder_tender": "27.90", "beef.top_blade_steak": "16.90",
	"beef.chuck_eye_steak": "18.90", "beef.thin_chuck_steak": "15.90", "beef.under_blade_steak": "20.90",
	"beef.outside_steak": "19.90", "beef.inside_steak": "17.90", "beef.flap_steak": "19.90", "beef.tender_steak": "18.90",
	"beef.fillet_whole": "48.90", "beef.cubed_steak": "14.90", "beef.minute_steak": "17.90",
	"beef.thin_frying_steak": "16.90", "beef.quick_steak": "16.90", "beef.clod_heart_steak": "15.90",
	"beef.knuckle_steak": "16.90", "beef.centre_steak": "18.90", "beef.marrow_bone": "3.90", "beef.back_ribs": "8.90",
	"beef.single_bone": "12.90", "beef.cross_rib": "11.90", "beef.shin_slice": "10.90", "lamb.noisette": "36.90",
	"lamb.loin_chop": "25.90", "lamb.double_loin_chop": "24.90", "lamb.double_loin": "32.90", "lamb.fillet_whole": "38.90",
	"lamb.fillet_piece": "36.90", "lamb.rib_chop": "29.90", "lamb.frenched_rack": "36.90", "lamb.roasting_rack": "28.90",
	"lamb.eye_whole": "42.90", "lamb.topside_portion": "25.90", "lamb.rump_portion": "26.90", "lamb.rump_steak": "26.90",
	"lamb.rump_whole": "25.90", "lamb.leg_roast": "17.90", "lamb.rolled_leg": "20.90", "lamb.shoulder_roast": "12.90",
	"lamb.rolled_shoulder": "16.90", "lamb.whole_neck": "9.90", "lamb.neck_slice": "9.90", "lamb.mince_trim": "11.90",
	"lamb.shoulder_tender": "24.90", "lamb.neck_fillet_whole": "18.90", "lamb.chump_chop": "19.90",
	"lamb.rib_tips": "6.90", "lamb.riblets": "8.90", "beef.bone_in_sirloin_steak": "15.90",
	"beef.chuck_rib_plate": "12.90", "beef.inner_blade_steak": "18.90", "beef.suet_clean": "2.90",
	"beef.ball_tip_piece": "15.90", "beef.fillet_head": "34.90",
}

// usual are the counter's prices by species and form, for the rest.
var usual = map[string]map[string]string{
	"beef": {"steak": "17.90", "roast": "15.90", "mini_roast": "16.90", "strip": "15.90", "dice": "13.90", "trim": "9.90",
		"fat": "0.60", "thin_slice": "16.90", "braising_steak": "13.90", "whole": "14.90", "shank": "10.90", "bone": "1.50",
		"medallion": "26.90", "kebab": "17.90", "riblet": "9.90", "scallop": "18.90", "rack": "26.90", "chop": "24.90",
		"sausage_trim": "8.90", "cushion": "16.90", "cutlet": "22.90", "offal": "4.90"},
	"lamb": {"steak": "22.90", "roast": "16.90", "mini_roast": "18.90", "strip": "17.90", "dice": "15.90", "trim": "11.90",
		"fat": "0.40", "thin_slice": "18.90", "braising_steak": "11.90", "whole": "15.90", "shank": "13.90", "bone": "1.20",
		"medallion": "34.90", "kebab": "19.90", "riblet": "9.90", "scallop": "21.90", "rack": "30.90", "chop": "17.90",
		"sausage_trim": "8.50", "cushion": "18.90", "cutlet": "26.90", "offal": "5.90"},
	"deer": {"steak": "29.90", "dice": "19.90", "trim": "14.90", "fat": "0.40", "bone": "1.20", "roast": "24.90",
		"whole": "24.90"},
}

// price sets a price for every product of the atlas, as one list.
func (s *scene) price() error {
	products, err := s.w.Pricing.Prices(s.ctx)
	if err != nil {
		return err
	}
	list := [][]string{pricing.PriceColumns}
	for _, p := range products {
		amount, ok := prices[p.Key]
		if !ok {
			if amount, ok = usual[p.Species][p.Form]; !ok {
				return fmt.Errorf("the demo has no price for %s, a %s", p.Key, p.Form)
			}
		}
		list = append(list, []string{p.Key, p.Name, amount, "kg"})
	}
	lines, err := s.w.Pricing.ImportPrices(s.ctx, list, true)
	for _, l := range lines {
		if l.Fault != nil {
			return fmt.Errorf("price of %s: %w", l.Named, l.Fault)
		}
	}
	return err
}
