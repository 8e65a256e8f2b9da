package main

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"strings"
	"testing"
	"time"

	"falda/internal/backup"
	"falda/internal/core/measure"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

func TestMain(m *testing.M) { os.Exit(testdb.Run(m)) }

func freeAddr(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	return l.Addr().String()
}

// A new database is refused until it is migrated. Then serve prints a link with which the first owner sets it up, once;
// there is no password before. Stopping says so at /readyz first.
func TestServeOnADatabaseOfOnesOwn(t *testing.T) {
	dsn := testdb.DSN(t)
	if err := runServe(t.Context(), serving{addr: "127.0.0.1:0", dsn: dsn}); err == nil ||
		!strings.Contains(err.Error(), "falda migrate") {
		t.Fatalf("serving a new database: %v", err)
	}
	st, w, err := openWork(dsn, "")
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	for range 2 { // a second time changes nothing
		if version, err := st.Migrate(t.Context()); err != nil || version < 2 {
			t.Fatalf("schema version %d, %v", version, err)
		}
	}
	if err := st.DB().Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (99999, TRUE)").
		Error; err != nil {
		t.Fatal(err)
	}
	if err := runServe(t.Context(), serving{addr: "127.0.0.1:0", dsn: dsn}); err == nil ||
		!strings.Contains(err.Error(), "use the newer program") {
		t.Errorf("serving a newer database: %v", err)
	}
	if err := st.DB().Exec("DELETE FROM goose_db_version WHERE version_id = 99999").Error; err != nil {
		t.Fatal(err)
	}
	addr, metrics, backups := freeAddr(t), freeAddr(t), t.TempDir()
	ctx, stop := context.WithCancel(t.Context())
	done := make(chan error, 1)
	go func() {
		done <- runServe(ctx,
			serving{addr: addr, dsn: dsn, scales: []string{"One=127.0.0.1:1"}, metricsAddr: metrics, drain: 2 * time.Second,
				keeper: backup.Keeper{Dir: backups, Every: time.Hour, Keep: 3}})
	}()
	client := &http.Client{Timeout: 10 * time.Second}
	client.Jar, _ = cookiejar.New(nil)
	ask := func(method, at, body string) (int, string) {
		req, err := http.NewRequest(method, at, strings.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		resp, err := client.Do(req)
		if err != nil {
			return 0, err.Error()
		}
		defer resp.Body.Close()
		raw, err := io.ReadAll(resp.Body)
		if err != nil {
			return 0, err.Error()
		}
		return resp.StatusCode, string(raw)
	}
	api := "http://" + addr + "/api/v1"
	for end := time.Now().Add(30 * time.Second); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		if status, _ := ask("GET", "http://"+addr+"/readyz", ""); status == 200 {
			break
		}
	}
	if status, body := ask("GET", api+"/shop", ""); status != 401 {
		t.Errorf("nobody sees the shop: %d %s", status, body)
	}
	if status, body := ask("POST", api+"/session/demo", `{"member_id":"x"}`); status != 404 {
		t.Errorf("the demo's touch outside of the demo: %d %s", status, body)
	}
	link, err := w.People.SetUpLink(t.Context())
	if err != nil || link == "" {
		t.Fatalf("no link: %v", err)
	}
	form := `{"link":%q,"name":"Own shop","currency":"USD","weight_unit":"lb","labour_rate":"30","packaging_per_kg":"0.3",
		"discard_per_kg":"0.2","tax_pct":7,"benches":["One"],
		"owner_name":"A","owner_email":"a@own.example","owner_password":%q}`
	for name, c := range map[string][3]string{"a wrong link": {"guess", "river stone lantern", "used_up"},
		"a short password": {link, "short", "too_short"}, "an easy one": {link, "password1234", "too_easy"}} {
		if status, body := ask("POST", api+"/set-up", fmt.Sprintf(form, c[0], c[1])); status < 400 ||
			!strings.Contains(body, c[2]) {
			t.Errorf("%s: %d %s", name, status, body)
		}
	}
	if status, body := ask("POST", api+"/set-up", fmt.Sprintf(form, link, "river stone lantern")); status != 204 {
		t.Fatalf("set up: %d %s", status, body)
	}
	if status, body := ask("POST", api+"/set-up", fmt.Sprintf(form, link, "river stone lantern")); status != 409 {
		t.Errorf("a second time: %d %s", status, body)
	}
	if again, err := w.People.SetUpLink(t.Context()); err != nil || again != "" {
		t.Errorf("a link after the set-up: %q %v", again, err)
	}
	status, body := ask("GET", api+"/shop", "")
	for _, want := range []string{`"name":"Own shop"`, `"currency":"USD"`, `"weight_unit":"lb"`, `"labour_rate":"30.00"`,
		`"has_scale":true`} {
		if status != 200 || !strings.Contains(body, want) {
			t.Errorf("the shop has no %s: %d %s", want, status, body)
		}
	}
	if status, body := ask("POST", api+"/calc/balance", `{"input_g":10,"outputs":[]}`); status != 200 {
		t.Errorf("the calculator for somebody signed in: %d %s", status, body)
	}
	for end := time.Now().Add(30 * time.Second); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		if files, err := os.ReadDir(backups); err == nil && len(files) == 1 &&
			strings.HasSuffix(files[0].Name(), ".jsonl.gz") {
			break
		}
	}
	_, counted := ask("GET", "http://"+metrics+"/metrics", "")
	for _, want := range []string{`falda_requests_total{route="GET /api/v1/shop",status="200"} 1`,
		`falda_sign_ins_total{result="accepted"} 1`, "falda_backup_last_seconds 1.", "go_sql_open_connections"} {
		if !strings.Contains(counted, want) {
			t.Errorf("/metrics does not say %s", want)
		}
	}
	if _, page := ask("GET", "http://"+addr+"/metrics", ""); strings.Contains(page, "falda_requests_total") {
		t.Error("the counters are at the app's own address too")
	}
	stop()
	draining := false
	for end := time.Now().Add(20 * time.Second); time.Now().Before(end) && !draining; time.Sleep(20 * time.Millisecond) {
		status, body := ask("GET", "http://"+addr+"/readyz", "")
		draining = status == 503 && body == "stopping\n"
		if status == 0 {
			break
		}
	}
	if !draining {
		t.Error("/readyz never said that it stops")
	}
	if err := <-done; err != nil {
		t.Errorf("stopping: %v", err)
	}
}

// With one shop a bench's name finds its scale; with two it does not, for one shop's scale must not show in the
// other's.
func TestScalesStayInTheirShop(t *testing.T) {
	st, w := testdb.Service(t, time.Now)
	owner := testdb.As(t, w, "owner")
	scales, err := connectDevices(t.Context(), st, "scale", []string{"North=127.0.0.1:1", "Other shop/North=127.0.0.1:1"},
		device.Connect)
	if err != nil {
		t.Fatal(err)
	}
	north := func(ctx context.Context) store.Bench {
		rows, err := w.People.Benches(ctx)
		if err != nil {
			t.Fatal(err)
		}
		return rows[0].Bench
	}
	if scales.find(north(owner)) != scales.byName["North"] {
		t.Error("the only shop's bench has no scale")
	}
	if _, err := w.Shop.AddShop(owner,
		shop.NewShop{Name: "Other shop", Currency: "EUR", Unit: "kg", Benches: []string{"North"}}); err != nil {
		t.Fatal(err)
	}
	scales.read = time.Time{}
	shops, err := st.Shops(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	other, err := w.People.MemberCaller(t.Context(), shops[1].ID, "owner")
	if err != nil {
		t.Fatal(err)
	}
	if scales.find(north(owner)) != nil {
		t.Error("with two shops a bare name still finds a scale")
	}
	if scales.find(north(audit.As(t.Context(), other))) != scales.byName["Other shop/North"] {
		t.Error("shop and bench do not find their scale")
	}
	if _, err := connectDevices(t.Context(), st, "scale", []string{"North"}, device.Connect); err == nil {
		t.Error("--scale without an address was taken")
	}
}

// The simulated scale carries out what is typed and what listeners send.
func TestSimulateScale(t *testing.T) {
	addr := freeAddr(t)
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	typed, keyboard := io.Pipe()
	done := make(chan error, 1)
	go func() {
		done <- simulateScale(ctx, addr,
			&device.SimScale{Division: 10 * measure.Gram, Settle: 20 * time.Millisecond, Every: 5 * time.Millisecond}, typed)
	}()
	scale := device.Connect(ctx, addr)
	want := func(g float64) {
		t.Helper()
		timeout := time.After(20 * time.Second)
		for {
			r, changed := scale.Reading()
			if r.Status == device.OK && r.Stable && r.Net.Grams() == g {
				return
			}
			select {
			case <-changed:
			case <-timeout:
				t.Fatalf("never %v g: %+v", g, r)
			}
		}
	}
	want(0)
	if _, err := io.WriteString(keyboard, "put 1234\n"); err != nil {
		t.Fatal(err)
	}
	want(1230)
	if err := scale.Command(ctx, "take"); err != nil {
		t.Fatal(err)
	}
	want(0)
	stop()
	if err := <-done; err != nil {
		t.Errorf("stopping: %v", err)
	}
}

// Verify finds what does not agree with the log, and rebuilds it from the log.
func TestVerifyFindsAndRebuilds(t *testing.T) {
	dsn := testdb.DSN(t)
	st, w, err := openDemo(t.Context(), dsn, "", time.Now)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	verify := func(rebuild bool) (string, error) {
		var out strings.Builder
		err := runVerify(t.Context(), dsn, "", rebuild, &out)
		return out.String(), err
	}
	var cut int64
	if err := st.DB().Table("breakdowns").Count(&cut).Error; err != nil || cut < 40 {
		t.Fatalf("the scenario has %d breakdowns: %v", cut, err)
	}
	if out, err := verify(false); err != nil || !strings.Contains(out, fmt.Sprintf("1 shops, %d breakdowns", cut)) ||
		!strings.Contains(out, ": 0 flaws") {
		t.Fatalf("the scenario: %s %v", out, err)
	}
	for _, damage := range []string{
		"UPDATE breakdowns SET output_mg = output_mg + 1, loss_mg = loss_mg - 1 WHERE state = 'closed' ORDER BY id LIMIT 1",
		"UPDATE outputs SET mass_mg = mass_mg + 1 ORDER BY id DESC LIMIT 1",
		"DELETE FROM outputs ORDER BY id LIMIT 1",
	} {
		if err := st.DB().Exec(damage).Error; err != nil {
			t.Fatal(err)
		}
	}
	out, err := verify(false)
	for _, flaw := range []string{"output is", "loss is", "stands wrongly", "is missing", ": 4 flaws"} {
		if err == nil || !strings.Contains(out, flaw) {
			t.Errorf("%q was not found: %s %v", flaw, out, err)
		}
	}
	if out, err := verify(true); err != nil || !strings.Contains(out, "2 rebuilt") {
		t.Errorf("rebuilding: %s %v", out, err)
	}
	if out, err := verify(false); err != nil || !strings.Contains(out, ": 0 flaws") {
		t.Errorf("after rebuilding: %s %v", out, err)
	}
	// a scenario that was cut short is begun anew
	if err := st.DB().Exec("UPDATE shops SET seeded = FALSE").Error; err != nil {
		t.Fatal(err)
	}
	again, _, err := openDemo(t.Context(), dsn, "", time.Now)
	if err != nil {
		t.Fatal(err)
	}
	defer again.Close()
	if seeded, err := w.Shop.Seeded(t.Context()); err != nil || !seeded {
		t.Errorf("begun anew: %v, %v", seeded, err)
	}
}

// Rule: the program itself shows the terms of what others made of it, for whoever has the program alone.
func TestLicencesGoAlong(t *testing.T) {
	var out bytes.Buffer
	c := licencesCommand()
	c.SetOut(&out)
	c.SetArgs(nil)
	if err := c.Execute(); err != nil {
		t.Fatal(err)
	}
	for _, part := range []string{"| github.com/labstack/echo/v5 |", "| vue |", "| @fontsource-variable/archivo |",
		"Mozilla Public License", "SIL OPEN FONT LICENSE", "Permission is hereby granted"} {
		if !strings.Contains(out.String(), part) {
			t.Errorf("it does not show %q", part)
		}
	}
}
