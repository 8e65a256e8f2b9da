package house

import (
	"bytes"
	"encoding/json"
	"image/png"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"testing"
)

// Rule: the README shows exactly the pictures that `make pictures` takes, fewer than twenty, each of the size that is
// asked of it; nothing else lies beside them.
func TestPicturesAreThoseThatAreTaken(t *testing.T) {
	folder := filepath.Join(root, "docs", "screenshots")
	raw, err := os.ReadFile(filepath.Join(folder, "list.json"))
	if err != nil {
		t.Fatal(err)
	}
	var list []struct {
		Name          string
		Width, Height int
	}
	if err := json.Unmarshal(raw, &list); err != nil {
		t.Fatal(err)
	}
	readme, err := os.ReadFile(filepath.Join(root, "README.md"))
	if err != nil {
		t.Fatal(err)
	}
	var shown, taken, lying []string
	for _, m := range regexp.MustCompile(`docs/screenshots/([\w-]+)\.png`).FindAllSubmatch(readme, -1) {
		shown = append(shown, string(m[1]))
	}
	for _, p := range list {
		taken = append(taken, p.Name)
		img, err := os.ReadFile(filepath.Join(folder, p.Name+".png"))
		if err != nil {
			t.Error(err)
			continue
		}
		size, err := png.DecodeConfig(bytes.NewReader(img))
		width, height := max(p.Width, 0), max(p.Height, 0)
		if width == 0 {
			width = 1280
		}
		if height == 0 {
			height = 800
		}
		if err != nil || size.Width != width || size.Height != height {
			t.Errorf("%s is %d × %d, want %d × %d (%v)", p.Name, size.Width, size.Height, width, height, err)
		}
	}
	files, err := filepath.Glob(filepath.Join(folder, "*.png"))
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range files {
		lying = append(lying, filepath.Base(f[:len(f)-len(".png")]))
	}
	slices.Sort(shown)
	slices.Sort(taken)
	slices.Sort(lying)
	if !slices.Equal(shown, taken) || !slices.Equal(lying, taken) || len(taken) >= 20 {
		t.Errorf("the README shows %v, `make pictures` takes %v, and there are %v", shown, taken, lying)
	}
}
