package atlas

import (
	"strings"
)

// match ranks how well the words asked for fit a name: 0 the same, then by how much of the name was left unsaid; −1 no.
// A word of at least so many letters may be the beginning of one.
func match(asked, name []string, least int) int {
	return fit(asked, name, func(asked, word string) int {
		switch {
		case word == asked:
			return 0
		case len(asked) >= least && strings.HasPrefix(word, asked):
			return 2
		}
		return -1
	})
}

// slipCosts weighs a slip more than what kind of name it is.
const slipCosts = 50

// near ranks a name of which words are a slip or two away: one in words of five letters or more, or of three among
// others, two in those of seven or more; a word that begins with another letter, or with a figure in it, is another.
func near(words, name []string) int {
	r := fit(words, name, func(asked, word string) int {
		if strings.HasPrefix(word, asked) {
			return 2
		}
		n := len([]rune(asked))
		limit := 0
		if n >= 5 || (n >= 3 && len(words) > 1) {
			limit = 1
		}
		if n >= 7 {
			limit = 2
		}
		if word == "" || asked[0] != word[0] || strings.ContainsAny(asked, "0123456789") {
			return -1
		}
		if d := slips(asked, word, limit); d <= limit {
			return slipCosts * d
		}
		if n >= 4 && len([]rune(word)) > n { // the beginning of a longer word
			if d := slips(asked, string([]rune(word)[:n]), limit); d <= limit {
				return slipCosts*d + 2
			}
		}
		return -1
	})
	if r < 0 {
		return -1
	}
	return rankNear + r
}

// fit lays each word asked for on a word of the name of its own.
func fit(asked, name []string, cost func(asked, word string) int) int {
	used := make([]bool, len(name))
	sum := 0
	for _, a := range asked {
		at, least := -1, 0
		for i, n := range name {
			if used[i] {
				continue
			}
			if c := cost(a, n); c >= 0 && (at < 0 || c < least) {
				at, least = i, c
			}
		}
		if at < 0 {
			return -1
		}
		used[at] = true
		sum += least
	}
	return sum + min(len(name)-len(asked), 10)
}

// slips counts the letters that were left out, added, taken for another or exchanged with their neighbour (the
// restricted Damerau–Levenshtein distance); more than most need not be exact.
func slips(a, b string, limit int) int {
	x, y := []rune(a), []rune(b)
	if d := len(x) - len(y); d > limit || -d > limit {
		return limit + 1
	}
	rows := make([][]int, len(x)+1)
	for i := range rows {
		rows[i] = make([]int, len(y)+1)
		rows[i][0] = i
	}
	for j := range rows[0] {
		rows[0][j] = j
	}
	for i := 1; i <= len(x); i++ {
		for j := 1; j <= len(y); j++ {
			same := 1
			if x[i-1] == y[j-1] {
				same = 0
			}
			d := min(rows[i-1][j]+1, rows[i][j-1]+1, rows[i-1][j-1]+same)
			if i > 1 && j > 1 && x[i-1] == y[j-2] && x[i-2] == y[j-1] {
				d = min(d, rows[i-2][j-2]+1)
			}
			rows[i][j] = d
		}
	}
	return rows[len(x)][len(y)]
}
