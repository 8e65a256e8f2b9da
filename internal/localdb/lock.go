package localdb

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
)

// Lock keeps a data folder for one program.
type Lock struct{ file *os.File }

// ErrInUse says that another Falda runs on the folder.
var ErrInUse = errors.New("another Falda already runs on this data folder")

// Take locks a folder, making it when it is new. Where another program holds it, the error is ErrInUse and says where
// that one serves, as far as it has said so. The lock ends with the program, however it ends.
func Take(dir string) (*Lock, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	file, err := os.OpenFile(filepath.Join(dir, "falda.lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(file.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		raw, _ := os.ReadFile(file.Name())
		file.Close()
		if where := strings.TrimSpace(string(raw)); where != "" {
			return nil, fmt.Errorf("%w: it serves %s", ErrInUse, where)
		}
		return nil, ErrInUse
	}
	if err := file.Truncate(0); err != nil {
		file.Close()
		return nil, err
	}
	return &Lock{file}, nil
}

// Say notes where the program serves, for whoever finds the folder locked.
func (l *Lock) Say(where string) error {
	_, err := l.file.WriteAt([]byte(where+"\n"), 0)
	return err
}

// Release gives the folder free.
func (l *Lock) Release() { _ = l.file.Close() }
