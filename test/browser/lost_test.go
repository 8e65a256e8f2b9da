package browser

import (
	"os/exec"
	"strings"
	"syscall"
	"testing"
	"time"
)

// Reload, kill the browser, kill the program, kill the database: every weight that was confirmed is there, and what was
// typed while nothing answered arrives once.
func TestNothingIsLost(t *testing.T) {
	data, profile := t.TempDir(), t.TempDir()
	a := start(t, data, "127.0.0.1:0")
	addr := strings.TrimPrefix(a.url, "http://")
	id := a.planned("L-1", "North")
	b, l := open(t, profile)
	s := a.show(b, "/bench/"+id, 1280, 800)
	s.lookedOver()
	s.weigh("6600", "6.600")
	s.weigh("1000", "5.600")

	// the browser dies
	l.Kill()
	b, _ = open(t, profile)
	s = a.show(b, "/bench/"+id, 1280, 800)
	s.residual("5.600")
	s.weigh("160", "5.440")

	// the program dies, and its database with it; a weight is typed meanwhile
	a.kill()
	s.typed("960")
	s.enter()
	s.says("1 weighing waits here, safe")
	s.residual("4.480")
	a.waitForDatabase()
	a = start(t, data, addr)
	s.until("the connection is back", "document.querySelector('.bench').dataset.waiting === '0'")
	s.residual("4.480")

	// the database dies under the running program, and a weight is typed meanwhile
	if err := syscall.Kill(a.databasePID(), syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	s.typed("900")
	s.enter()
	s.until("the weight is through", "document.querySelector('.bench').dataset.waiting === '0'")
	s.residual("3.580")
	s.MustReload()
	s.residual("3.580")
	// faster than the network: nobody waits for the answer between two weighings
	for range 5 {
		s.typed("10")
		s.enter()
	}
	s.residual("3.530")
	s.MustReload()
	s.residual("3.530")
	s.until("everything is confirmed", "document.querySelector('.bench').dataset.waiting === '0'")
	var board struct {
		Booked  int
		Balance struct {
			OutputG float64 `json:"output_g"`
		}
	}
	a.api("GET", "/breakdowns/"+id, nil, &board)
	if board.Booked != 11 || board.Balance.OutputG != 3070 {
		t.Errorf("%d events, %v g on the board; want each of eleven once, 3070 g", board.Booked, board.Balance.OutputG)
	}
}

// A second start on the same folder says so and does no harm; Ctrl-C stops program and database cleanly; starting again
// finds the data.
func TestStartStopAndStartAgain(t *testing.T) {
	data := t.TempDir()
	a := start(t, data, "127.0.0.1:0")
	a.planned("S-1", "North")
	out, err := exec.Command(binary, "demo", "--addr", "127.0.0.1:0", "--data", data).CombinedOutput()
	if err == nil || !strings.Contains(string(out), a.url) {
		t.Errorf("a second start: %v, %s", err, out)
	}
	var before, after []struct{ ID string }
	a.list("/pieces", "pieces", &before)
	pid := a.databasePID()
	if !alive(pid) {
		t.Fatal("there is no database")
	}
	if err := a.cmd.Process.Signal(syscall.SIGINT); err != nil {
		t.Fatal(err)
	}
	if err := a.cmd.Wait(); err != nil {
		t.Errorf("Ctrl-C: %v\n%s", err, a.errs)
	}
	if alive(pid) {
		t.Error("the database outlived the program")
	}
	a = start(t, data, "127.0.0.1:0")
	a.list("/pieces", "pieces", &after)
	if len(before) == 0 || len(after) != len(before) {
		t.Errorf("%d pieces before, %d after", len(before), len(after))
	}
}

// The program's commands say what is wrong and what to do.
func TestCommandsExplainThemselves(t *testing.T) {
	for _, c := range []struct{ args, says string }{
		{"serve", "--dsn"}, {"migrate", "--dsn"}, {"verify", "--dsn"}, {"serve --dsn nonsense", "database address"},
		{"serve --dsn x --tls-cert a", "--tls-key"}, {"backup", "arg"},
		{"backup x --dsn falda:x@tcp(127.0.0.1:1)/falda", "does not answer"}, {"restore /nowhere --dsn x", "no such file"},
		{"serve --dsn x --log prose", "--log"}, {"serve --dsn falda:x@tcp(127.0.0.1:1)/falda", "does not answer"},
		{"simulate scale --addr 0.0.0.0:0", "loopback"}, {"simulate scale --division 0", "--division"},
		{"demo --addr 0.0.0.0:0", "loopback"}, {"demo --addr 127.0.0.1", "--addr"}, {"cook", "unknown command"},
	} {
		cmd := exec.Command(binary, strings.Fields(c.args)...)
		cmd.Dir = t.TempDir()
		giveUp := time.AfterFunc(patience, func() { _ = cmd.Process.Kill() })
		out, err := cmd.CombinedOutput()
		giveUp.Stop()
		if err == nil || !strings.Contains(string(out), c.says) {
			t.Errorf("falda %s: %v, %s", c.args, err, out)
		}
	}
}

// A server that was upgraded while a bench is open: the old page says so calmly, goes on booking, keeps what waits, and
// the new page takes it in.
func TestAPageOfTheVersionBefore(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	a := start(t, data, "127.0.0.1:0")
	addr := strings.TrimPrefix(a.url, "http://")
	id := a.planned("UP-1", "North")
	b, _ := open(t, "")
	s := a.show(b, "/bench/"+id, 1280, 800)
	s.lookedOver()
	s.weigh("6600", "6.600")
	s.until("nothing is said", "!document.querySelector('[data-test=upgraded]')")
	// as if it had begun with the script of the version before
	s.eval("[...document.scripts].find((x) => x.src.includes('/assets/index-')).src = '/assets/index-before.js'")
	s.weigh("180", "6.420")
	s.says("Falda was upgraded. This page goes on working")
	a.kill()
	s.typed("1000")
	s.enter()
	s.says("1 weighing waits here, safe")
	a = start(t, data, addr)
	s.says("Falda was upgraded")
	s.touch("Load the new one")
	s.until("the new page says nothing", "!document.querySelector('[data-test=upgraded]')")
	s.residual("5.420")
	s.until("it was taken in", "document.querySelector('.bench').dataset.waiting === '0'")
	var board struct{ Booked int }
	a.api("GET", "/breakdowns/"+id, nil, &board)
	if board.Booked != 4 { // looked over, weighed, the wedge and the tri-tip
		t.Errorf("%d events", board.Booked)
	}
}
