// Package localdb runs a private MariaDB for one Falda: its own data folder, a socket and a free port on loopback, its
// own account with a random password kept in a file that only its owner reads. The server is Debian's package; nothing
// of a system-wide database is touched. It ends with the program, is watched, and is started again when it dies, on the
// same port; what was committed is there (InnoDB flushes its log at every commit).
package localdb

import (
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"
)

// Server is a running private MariaDB.
type Server struct {
	DSN  string // for the account that owns the database falda
	Port int

	dir     string // absolute
	sockets string // short folder for the socket: its path may be 107 bytes at most
	program string
	owner   string

	mu       sync.Mutex
	process  *os.Process
	done     chan struct{} // closed when the running process has ended
	stopping bool
	watched  sync.WaitGroup
}

// ErrMissing says that MariaDB's server is not installed.
var ErrMissing = errors.New("MariaDB's server is not installed: run 'apt-get install --no-install-recommends " +
	"mariadb-server' as root")

const startWait = 120 * time.Second

// Start starts the server in dir, which is made and filled when it is new, and waits until it answers.
func Start(ctx context.Context, dir string) (*Server, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	s := &Server{dir: dir}
	if s.program, err = find("mariadbd", "/usr/sbin/mariadbd", "mysqld"); err != nil {
		return nil, ErrMissing
	}
	me, err := user.Current()
	if err != nil {
		return nil, err
	}
	s.owner = me.Username
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	if err := s.waitForOld(); err != nil {
		return nil, err
	}
	if s.sockets, err = os.MkdirTemp("", "falda-db-"); err != nil {
		return nil, err
	}
	if err := s.install(); err != nil {
		return nil, err
	}
	if s.Port, err = freePort(); err != nil {
		return nil, err
	}
	if err := s.launch(); err != nil {
		return nil, err
	}
	if err := s.prepare(ctx); err != nil {
		s.Stop()
		return nil, err
	}
	s.watched.Add(1)
	go s.watch()
	return s, nil
}

func find(names ...string) (string, error) {
	for _, n := range names {
		if path, err := exec.LookPath(n); err == nil {
			return path, nil
		}
	}
	return "", exec.ErrNotFound
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

func (s *Server) data() string    { return filepath.Join(s.dir, "data") }
func (s *Server) temp() string    { return filepath.Join(s.dir, "temp") }
func (s *Server) socket() string  { return filepath.Join(s.sockets, "db.sock") }
func (s *Server) pidFile() string { return filepath.Join(s.dir, "db.pid") }
func (s *Server) logFile() string { return filepath.Join(s.dir, "db.log") }

// waitForOld waits for a server that an earlier run left behind, which ends by itself when its program died.
func (s *Server) waitForOld() error {
	raw, err := os.ReadFile(s.pidFile())
	if err != nil {
		return nil
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(raw)))
	if err != nil {
		return nil
	}
	for end := time.Now().Add(60 * time.Second); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		cmdline, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
		if err != nil || !strings.Contains(string(cmdline), s.data()) {
			return nil
		}
	}
	return fmt.Errorf("a database (process %d) still uses %s; stop it and try again", pid, s.data())
}

// install fills a new data folder. It works beside it and moves it in place, so that a half-made one is never used.
func (s *Server) install() error {
	if _, err := os.Stat(filepath.Join(s.data(), "mysql")); err == nil {
		return nil
	}
	program, err := find("mariadb-install-db", "mysql_install_db")
	if err != nil {
		return ErrMissing
	}
	half := s.data() + ".new"
	if err := os.RemoveAll(half); err != nil {
		return err
	}
	if err := s.freshTemp(); err != nil {
		return err
	}
	cmd := exec.Command(program, "--no-defaults", "--datadir="+half, "--tmpdir="+s.temp(), "--user="+s.owner,
		"--skip-test-db", "--skip-name-resolve", "--auth-root-authentication-method=socket",
		"--auth-root-socket-user="+s.owner, "--skip-log-bin")
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("setting up the database: %w\n%s", err, out)
	}
	return os.Rename(half, s.data())
}

// freshTemp makes an empty folder for temporary tables. In the system's own, two servers that know each other by the
// same process id, as in containers, delete each other's.
func (s *Server) freshTemp() error {
	if err := os.RemoveAll(s.temp()); err != nil {
		return err
	}
	return os.MkdirAll(s.temp(), 0o700)
}

// launch starts the process. It is tied to a locked thread, so that the kernel ends it when this program dies.
func (s *Server) launch() error {
	logFile, err := os.OpenFile(s.logFile(), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	if err := s.freshTemp(); err != nil {
		return err
	}
	cmd := exec.Command(s.program, "--no-defaults", "--datadir="+s.data(), "--tmpdir="+s.temp(), "--user="+s.owner,
		"--bind-address=127.0.0.1", "--port="+strconv.Itoa(s.Port), "--socket="+s.socket(), "--pid-file="+s.pidFile(),
		"--skip-name-resolve", "--skip-log-bin", "--character-set-server=utf8mb4", "--collation-server=utf8mb4_unicode_ci",
		"--innodb-flush-log-at-trx-commit=1", "--innodb-buffer-pool-size=64M", "--innodb-log-file-size=32M",
		"--max-connections=64", "--performance-schema=OFF", "--lc-messages-dir=/usr/share/mysql")
	cmd.Stdout, cmd.Stderr = logFile, logFile
	done := make(chan struct{})
	started := make(chan error, 1)
	go runTied(cmd, started, done, logFile)
	if err := <-started; err != nil {
		return fmt.Errorf("starting the database: %w", err)
	}
	s.mu.Lock()
	s.process, s.done = cmd.Process, done
	s.mu.Unlock()
	return nil
}

// OwnerDSN is for the account that owns the server, over the socket, where the system user is known: for what is done
// to the server itself.
func (s *Server) OwnerDSN() string {
	root := mysqldriver.NewConfig()
	root.User, root.Net, root.Addr = s.owner, "unix", s.socket()
	return root.FormatDSN()
}

// prepare makes the database and its account over the socket, where the system user is known, and sets the DSN.
func (s *Server) prepare(ctx context.Context) error {
	secret, err := s.secret()
	if err != nil {
		return err
	}
	db, err := s.answering(ctx, s.OwnerDSN())
	if err != nil {
		return err
	}
	defer db.Close()
	for _, statement := range []string{
		"CREATE DATABASE IF NOT EXISTS falda CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci",
		"CREATE USER IF NOT EXISTS falda@127.0.0.1",
		"ALTER USER falda@127.0.0.1 IDENTIFIED BY '" + secret + "'",
		"GRANT ALL ON `falda%`.* TO falda@127.0.0.1", // also of a copy restored beside it
	} {
		if _, err := db.ExecContext(ctx, statement); err != nil {
			return fmt.Errorf("preparing the database: %w", err)
		}
	}
	app := mysqldriver.NewConfig()
	app.User, app.Passwd, app.Net, app.DBName = "falda", secret, "tcp", "falda"
	app.Addr = net.JoinHostPort("127.0.0.1", strconv.Itoa(s.Port))
	s.DSN = app.FormatDSN()
	return nil
}

func (s *Server) answering(ctx context.Context, dsn string) (*sql.DB, error) {
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	done := s.done
	s.mu.Unlock()
	timeout := time.After(startWait)
	for {
		if err = db.PingContext(ctx); err == nil {
			return db, nil
		}
		select {
		case <-ctx.Done():
			db.Close()
			return nil, ctx.Err()
		case <-done:
			db.Close()
			return nil, fmt.Errorf("the database ended while starting; its last words are in %s", s.logFile())
		case <-timeout:
			db.Close()
			return nil, fmt.Errorf("the database does not answer: %w; see %s", err, s.logFile())
		case <-time.After(50 * time.Millisecond):
		}
	}
}

// secret reads the account's password, or makes one.
func (s *Server) secret() (string, error) {
	path := filepath.Join(s.dir, "db.secret")
	if raw, err := os.ReadFile(path); err == nil && len(raw) > 0 {
		return strings.TrimSpace(string(raw)), nil
	}
	random := make([]byte, 24)
	if _, err := rand.Read(random); err != nil {
		return "", err
	}
	secret := hex.EncodeToString(random)
	return secret, os.WriteFile(path, []byte(secret), 0o600)
}

// watch starts the server again when it dies without being asked to, at most once a second.
func (s *Server) watch() {
	defer s.watched.Done()
	for {
		s.mu.Lock()
		done := s.done
		s.mu.Unlock()
		<-done
		s.mu.Lock()
		stopping := s.stopping
		s.mu.Unlock()
		if stopping {
			return
		}
		slog.Warn("the database ended; starting it again", "log", s.logFile())
		time.Sleep(time.Second)
		s.mu.Lock()
		stopping = s.stopping
		s.mu.Unlock()
		if stopping {
			return
		}
		if err := s.launch(); err != nil {
			slog.Error("the database cannot be started", "error", err)
			return
		}
	}
}

// PID is the process id of the server as it runs now.
func (s *Server) PID() int {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.process == nil {
		return 0
	}
	return s.process.Pid
}

// Stop ends the server cleanly and waits for it.
func (s *Server) Stop() {
	s.mu.Lock()
	s.stopping = true
	process, done := s.process, s.done
	s.mu.Unlock()
	if process != nil {
		_ = process.Signal(syscall.SIGTERM)
		select {
		case <-done:
		case <-time.After(60 * time.Second):
			_ = process.Kill()
			<-done
		}
	}
	s.watched.Wait()
	_ = os.RemoveAll(s.sockets)
}
