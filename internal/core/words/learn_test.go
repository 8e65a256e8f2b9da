package words_test

import (
	"testing"

	"falda/internal/core/measure"
	"falda/internal/core/words"
)

func TestLearnedSentence(t *testing.T) {
	money := func(s string) *measure.Money { m := measure.MustMoney(s); return &m }
	for _, x := range []struct {
		l    words.Learned
		want string
	}{
		{words.Learned{N: 2}, "2 pieces timed so far. From three on there is a curve."},
		{words.Learned{N: 7, First: 35, Now: 25, Then: 21, Ahead: 10, House: 18, HouseN: 20, Reaches: 51, ExponentLow: 0.1,
			Lost: money("8.454"), LostN: 7, Until: money("38.61"), Currency: "EUR"},
			"35 minutes at first, 25 now, 21 after 10 more, by the curve through 7 pieces. The others take 18 (20 pieces); " +
				"the curve gets there at piece 51. Learning has cost €8.45 so far against the others, in work and meat (7 " +
				"pieces). The longer work until then will cost about €38.61."},
		{words.Learned{N: 3, Now: 17, House: 18, HouseN: 1, Lost: money("-4"), LostN: 3, Currency: "EUR", ExponentLow: -0.2},
			"About 17 minutes: no piece-by-piece gain can be told from chance yet (3 pieces). That is as fast as the others " +
				"(18, 1 piece). The pieces brought €4.00 more than the others', in work and meat (3 pieces)."},
		{words.Learned{N: 3, First: 30, Now: 29, Then: 28, Ahead: 10, House: 10, HouseN: 2, ExponentLow: 0.01},
			"30 minutes at first, 29 now, 28 after 10 more, by the curve through 3 pieces. The others take 10 (2 pieces); the " +
				"curve does not get there in sight."},
	} {
		if got := words.LearnedSentence(x.l); got != x.want {
			t.Errorf("\n%s, want\n%s", got, x.want)
		}
	}
}
