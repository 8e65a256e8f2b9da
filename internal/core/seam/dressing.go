package seam

import "falda/internal/core/atlas"

// Dressing lists what comes off any muscle when it is dressed, beside the products that are cut from it: trim by how
// lean it is, fat, skin, gristle, bone. They are weighed as parts of the muscle's own node.
var Dressing = []atlas.AnyPart{
	{ID: "lean", Name: "Lean trim", Kind: atlas.KindTrim},
	{ID: "extra_lean", Name: "Extra lean trim", Kind: atlas.KindTrim},
	{ID: "fatty", Name: "Fatty trim", Kind: atlas.KindTrim},
	{ID: "fat", Name: "Fat", Kind: atlas.KindFat},
	{ID: "silver", Name: "Silver skin", Kind: atlas.KindWaste},
	{ID: "gristle", Name: "Gristle", Kind: atlas.KindWaste},
	{ID: "bone", Name: "Bone", Kind: atlas.KindBone},
}

// DressingKind is the kind of something that comes off a muscle; empty where the id is of no such thing.
func DressingKind(id string) string {
	for _, d := range Dressing {
		if d.ID == id {
			return d.Kind
		}
	}
	return ""
}
