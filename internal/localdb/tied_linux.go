package localdb

import (
	"io"
	"os/exec"
	"runtime"
	"syscall"
)

// runTied starts cmd so that the kernel sends it SIGTERM when this program dies, in a process group of its own so that
// a Ctrl-C in the terminal reaches this program alone, which then stops it in order. The death signal is tied to the
// thread that started it: the thread stays until the process ends.
func runTied(cmd *exec.Cmd, started chan<- error, done chan<- struct{}, out io.Closer) {
	runtime.LockOSThread()
	defer runtime.UnlockOSThread()
	defer out.Close()
	defer close(done)
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGTERM, Setpgid: true}
	err := cmd.Start()
	started <- err
	if err == nil {
		_ = cmd.Wait()
	}
}
