package store

import (
	"encoding/json"
	"time"

	"falda/internal/core/value"
)

// Shop is a shop and its settings.
type Shop struct {
	ID                int64
	PublicID          string
	Name              string
	Demo              bool
	Market            string
	Currency          string
	TimeZone          string // IANA name
	WeightUnit        string
	LabourRate        string
	PackagingPerKg    string
	DiscardPerKg      string
	LossLimitKnifePct float64
	LossLimitSawPct   float64
	DivisionMg        int64
	LotPrefix         string
	Seeded            bool
	IdleMinutes       int               // after which a bench's clock stops by itself; 0 never
	LabourByRole      map[string]string `gorm:"serializer:json"` // per hour; a role that is not in it costs the labour rate
	Seasons           []value.Season    `gorm:"serializer:json"`
	Eating            *json.RawMessage  `gorm:"type:json"` // settings for grades; nil where they are the usual ones
	ResultsStale      int               // above 0 while some result may be missing or lack a price
	Version           int
	CreatedAt         time.Time
}

// Bench is a cutting bench.
type Bench struct {
	ID       int64
	PublicID string
	ShopID   int64
	Name     string
	Active   bool
	Version  int
}

// Lot is what was received at once.
type Lot struct {
	ID            int64
	PublicID      string
	ShopID        int64
	LotNumber     string
	Supplier      string
	AtlasID       string
	Pieces        int
	TotalMg       int64
	Price         string
	PricePer      string
	SlaughteredOn time.Time
	PackedOn      time.Time
	Findings      []string `gorm:"serializer:json"`
	Note          string
	ReceivedAt    time.Time
	About         About             `gorm:"embedded"`
	Decided       map[string]string `gorm:"serializer:json"` // finding → what becomes of it
	FromPieceID   *int64            // the carcass it was broken from
	Version       int
	VoidedAt      *time.Time
	VoidReason    string
}

// About is what is known of the animal and of how it came; empty where nobody said.
type About struct {
	Bone          string
	Feed          string
	Sex           string
	AgeClass      string
	FatClass      string
	Marbling      string
	Hang          string
	SupplierGrade string
	Ph            *float64
	TemperatureC  *float64
}

// Piece is one piece of a lot.
type Piece struct {
	ID       int64
	PublicID string
	ShopID   int64
	LotID    int64
	Number   int
	LabelMg  int64
	PlanID   string
	Version  int
	Options  map[string]string `gorm:"serializer:json"` // chosen within the plan
	VoidedAt *time.Time

	VoidReason string
}

// Breakdown is the taking apart of one piece. From State on its columns are what its events fold to.
type Breakdown struct {
	ID        int64
	PublicID  string
	ShopID    int64
	PieceID   int64
	BenchID   int64
	PlanID    string
	Plan      *json.RawMessage `gorm:"type:json"` // the whole plan as it was when the piece went on the bench
	CreatedAt time.Time
	JudgedAt  *time.Time
	PricedAt  *time.Time
	Prices    *Pricing `gorm:"serializer:json"`
	State     string
	Events    int
	InputMg   int64
	OutputMg  int64
	LossMg    int64
	Minutes   float64
	ClosedAt  *time.Time
	GainPerKg *string
	BatchID   *int64
}

// Batch is pieces of one kind that are cut together.
type Batch struct {
	ID        int64
	PublicID  string
	ShopID    int64
	BenchID   int64
	CreatedAt time.Time
}

// Pricing is the prices and rates of the day a breakdown was closed, so that it keeps its value.
type Pricing struct {
	Products       map[string]PriceOf `json:"products"`
	LabourRate     string             `json:"labour_rate"`
	PackagingPerKg string             `json:"packaging_per_kg"`
	DiscardPerKg   string             `json:"discard_per_kg,omitempty"`
	Market         string             `json:"market,omitempty"` // name
	Season         string             `json:"season,omitempty"`
}

// PriceOf is one price inside a Pricing.
type PriceOf struct {
	Amount string `json:"amount"`
	Per    string `json:"per"`
}

// Event is a row of the log.
type Event struct {
	ID          int64
	PublicID    string
	ShopID      int64
	BreakdownID int64
	Seq         int // counts the events of the breakdown, from 1
	BenchID     int64
	MemberID    *int64 // who did it; nil for what was booked before there was a sign-in
	Kind        string
	At          time.Time
	ReceivedAt  time.Time
	Role        string
	Node        string
	Part        string
	Product     string
	NetMg       int64
	GrossMg     int64
	TareMg      int64
	DivisionMg  int64
	Source      string
	Count       int
	Target      string
	Reason      string
	Note        string
	Minutes     *float64
	TempC       *float64
	Shared      int
}

// Output is a row of the read table of what lies on the board.
type Output struct {
	ID          int64
	ShopID      int64
	BreakdownID int64
	Node        string
	Parent      string
	Kind        string
	Part        string
	Product     string
	MassMg      int64
	At          time.Time
}

// Price is the price of a product.
type Price struct {
	ID         int64
	ShopID     int64
	ProductKey string
	Amount     string
	Per        string
	Version    int
	UpdatedAt  time.Time
}

// MethodChoice is a cooking method chosen for a muscle against the best one.
type MethodChoice struct {
	ID          int64
	ShopID      int64
	BreakdownID int64
	Part        string
	Method      string
	Note        string
	Version     int
	UpdatedAt   time.Time
}

// Hung is a piece with all that says where it hangs on the rail.
type Hung struct {
	Piece     Piece
	Lot       Lot
	Breakdown *Breakdown
	Bench     string
	Batch     string // public id
	BeforeMg  int64  // what the pieces of its lot with lower numbers weigh together, by their labels
}

// Plan is a shop's own way of cutting a piece; Version is the latest of its versions.
type Plan struct {
	ID        int64
	PublicID  string
	ShopID    int64
	AtlasID   string
	Version   int
	Retired   bool
	CreatedAt time.Time
}

// PlanVersion is a plan as somebody once made it.
type PlanVersion struct {
	ID       int64
	ShopID   int64
	PlanID   int64
	Version  int
	Body     json.RawMessage `gorm:"type:json"`
	MemberID *int64
	MadeBy   string
	MadeAt   time.Time
}
