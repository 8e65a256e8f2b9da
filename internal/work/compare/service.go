package compare

import (
	"runtime"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/bench"
	"falda/internal/work/goods"
	"falda/internal/work/judge"
	"falda/internal/work/made"
	"falda/internal/work/orders"
	"falda/internal/work/pricing"
	"falda/internal/work/sales"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// Service answers what ways of cutting bring.
type Service struct {
	store   *store.Store
	atlas   *atlas.Atlas
	now     func() time.Time
	audit   *audit.Log
	shops   *shop.Service
	prices  *pricing.Service
	stock   *stock.Service
	bench   *bench.Service
	judge   *judge.Service
	orders  *orders.Service
	sales   *sales.Service
	goods   *goods.Service
	made    *made.Service
	solver  bestuse.Solver
	solving chan struct{} // holds the searches that run
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log, shops *shop.Service,
	prices *pricing.Service, stock *stock.Service, bench *bench.Service, judge *judge.Service,
	orders *orders.Service, sold *sales.Service, lying *goods.Service, made *made.Service) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, shops: shops, prices: prices, stock: stock, bench: bench,
		judge: judge, orders: orders, sales: sold, goods: lying, made: made, solver: bestuse.BranchAndBound{},
		solving: make(chan struct{}, max(1, runtime.GOMAXPROCS(0)/2))}
}
