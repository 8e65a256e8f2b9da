// Package web holds the built web app, with its fonts, so that the program is one file.
package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// App is the built web app: index.html and its assets.
func App() fs.FS {
	sub, err := fs.Sub(dist, "dist")
	if err != nil { // cannot be: the folder is embedded
		panic(err)
	}
	return sub
}
