package testdb

import (
	"errors"
	"io"
	"net"
	"sync"
	"testing"

	mysqldriver "github.com/go-sql-driver/mysql"
)

// Gate stands between a program and the server, and shows each statement before the server has it. With it a test
// stops, kills or overtakes a program at any statement it likes.
type Gate struct {
	mu     sync.Mutex
	before func(statement string) error
	conns  map[net.Conn]bool
	passed int
}

// Statements is how many statements have passed; connecting takes some of its own.
func (g *Gate) Statements() int {
	g.mu.Lock()
	defer g.mu.Unlock()
	return g.passed
}

// ErrKilled is what a Gate's hook answers to end all connections before a statement arrives, as the end of a program
// does.
var ErrKilled = errors.New("killed before this statement")

// NewGate opens a gate to the database of an address, and gives the address that leads through it.
func NewGate(t testing.TB, dsn string) (*Gate, string) {
	t.Helper()
	c, err := mysqldriver.ParseDSN(dsn)
	if err != nil {
		t.Fatal(err)
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	g := &Gate{conns: map[net.Conn]bool{}}
	network, server := c.Net, c.Addr
	t.Cleanup(func() { l.Close(); g.kill() })
	go func() {
		for {
			client, err := l.Accept()
			if err != nil {
				return
			}
			up, err := net.Dial(network, server)
			if err != nil {
				client.Close()
				continue
			}
			g.mu.Lock()
			g.conns[client], g.conns[up] = true, true
			g.mu.Unlock()
			go func() { _, _ = io.Copy(client, up); client.Close() }()
			go func() { g.pass(client, up); up.Close() }()
		}
	}()
	c.Net, c.Addr = "tcp", l.Addr().String()
	return g, c.FormatDSN()
}

// Before sets what is asked before each statement; nil asks nothing.
func (g *Gate) Before(f func(statement string) error) {
	g.mu.Lock()
	defer g.mu.Unlock()
	g.before = f
}

// kill ends all connections.
func (g *Gate) kill() {
	g.mu.Lock()
	defer g.mu.Unlock()
	for c := range g.conns {
		c.Close()
	}
	clear(g.conns)
}

// query is the command byte of a statement in the protocol of MySQL and MariaDB; a command is the first packet of its
// sequence.
const query = 3

// pass hands on what a client sends, packet by packet: three bytes of length, one of sequence, the rest.
func (g *Gate) pass(client, up net.Conn) {
	head := make([]byte, 4)
	for {
		if _, err := io.ReadFull(client, head); err != nil {
			return
		}
		body := make([]byte, int(head[0])|int(head[1])<<8|int(head[2])<<16)
		if _, err := io.ReadFull(client, body); err != nil {
			return
		}
		if head[3] == 0 && len(body) > 0 && body[0] == query {
			g.mu.Lock()
			ask := g.before
			g.passed++
			g.mu.Unlock()
			if ask != nil {
				if err := ask(string(body[1:])); err != nil {
					g.kill()
					return
				}
			}
		}
		if _, err := up.Write(append(append([]byte{}, head...), body...)); err != nil {
			return
		}
	}
}
