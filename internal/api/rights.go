package api

import "slices"

// right says who may call a route. Who is not named may not.
type right struct {
	roles []string // signed in by password, or in the demo with a touch
	pin   bool     // the same roles, signed in by PIN on a bench's screen
	scope string   // a token of this scope
	open  opening
}

// opening is who may call a route without any of that.
type opening int

const (
	shut opening = iota
	everybody
	inDemo // everybody, in the demo on loopback
)

var (
	all     = []string{"owner", "head_cutter", "cutter", "apprentice", "yield_desk"}
	cut     = []string{"owner", "head_cutter", "cutter", "apprentice"}
	decide  = []string{"owner", "head_cutter", "cutter"}
	receive = []string{"owner", "head_cutter", "cutter", "yield_desk"}
	prices  = []string{"owner", "head_cutter", "yield_desk"}
	lead    = []string{"owner", "head_cutter"}
	owner   = []string{"owner"}
)

// rights is the one table of who may do what, by method and path of the contract. The guard enforces it for every
// route; what is not in it is refused, and a test fails where a route of the contract has no row.
var rights = map[string]right{
	"GET /openapi.yaml":                              {open: everybody},
	"GET /me":                                        {open: everybody, roles: all, pin: true, scope: "read"},
	"POST /session":                                  {open: everybody},
	"POST /session/demo":                             {open: everybody}, // there is no such address outside of the demo
	"POST /session/pin":                              {open: everybody}, // counts with the screen's own cookie only
	"GET /set-up":                                    {open: everybody}, // figures that stand in the program
	"POST /set-up":                                   {open: everybody}, // counts with the one-time link only
	"POST /invitation":                               {open: everybody},
	"PUT /invitation/password":                       {open: everybody},
	"POST /enrolment":                                {open: everybody},
	"DELETE /session":                                {roles: all, pin: true},
	"PUT /session/shop":                              {roles: all},
	"PUT /me/password":                               {roles: all},
	"PUT /me/pin":                                    {roles: all},
	"GET /me/sessions":                               {roles: all},
	"DELETE /me/sessions":                            {roles: all},
	"GET /shop":                                      {roles: all, pin: true, scope: "read"},
	"PUT /shop":                                      {roles: owner},
	"POST /shops":                                    {roles: owner},
	"GET /shops/example":                             {roles: owner},
	"POST /shops/example":                            {roles: owner},
	"DELETE /shops/example":                          {roles: owner},
	"GET /people":                                    {roles: owner},
	"POST /people":                                   {roles: owner},
	"PUT /people/{member_id}":                        {roles: owner},
	"PUT /people/{member_id}/pin":                    {roles: owner},
	"POST /people/{member_id}/link":                  {roles: owner},
	"PUT /people/{member_id}/pseudonym":              {roles: owner},
	"GET /people/{member_id}/data":                   {roles: owner},
	"GET /me/data":                                   {roles: all},
	"GET /benches/{bench_id}/checks":                 {roles: all, pin: true, scope: "read"},
	"POST /benches/{bench_id}/checks":                {roles: receive, pin: true, scope: "record"},
	"GET /benches":                                   {roles: lead},
	"POST /benches":                                  {roles: lead},
	"PUT /benches/{bench_id}":                        {roles: lead},
	"PUT /benches/{bench_id}/scale/lines":            {roles: lead},
	"POST /benches/{bench_id}/scale/lines":           {roles: lead},
	"POST /benches/{bench_id}/code":                  {roles: lead},
	"DELETE /benches/{bench_id}/screens/{screen_id}": {roles: lead},
	"GET /tokens":                                    {roles: owner},
	"POST /tokens":                                   {roles: owner},
	"DELETE /tokens/{token_id}":                      {roles: owner},
	"GET /audit":                                     {roles: owner, scope: "audit"},
	"GET /audit/export":                              {roles: owner, scope: "audit"},

	"GET /atlas/maps":                                 {roles: all, pin: true, scope: "read"},
	"GET /atlas/search":                               {roles: all, pin: true, scope: "read"},
	"GET /atlas/carcasses":                            {roles: all, pin: true, scope: "read"},
	"GET /atlas/pieces":                               {roles: all, pin: true, scope: "read"},
	"GET /atlas/pieces/{atlas_id}/body":               {roles: all, pin: true, scope: "read"},
	"GET /atlas/pieces/{atlas_id}/block":              {roles: all, pin: true, scope: "read"},
	"GET /atlas/pieces/{atlas_id}/pace":               {roles: all, pin: true, scope: "read"},
	"GET /atlas/pieces/{atlas_id}/straight":           {roles: all, pin: true, scope: "read"},
	"GET /atlas/pieces/{atlas_id}":                    {roles: all, pin: true, scope: "read"},
	"GET /atlas/pieces/{atlas_id}/card.pdf":           {roles: all, pin: true, scope: "read"},
	"GET /plans/{atlas_id}":                           {roles: all, pin: true, scope: "read"},
	"POST /portions":                                  {roles: all, pin: true, scope: "read"},
	"POST /portions/ruler.pdf":                        {roles: all, pin: true, scope: "read"},
	"POST /plans/{atlas_id}":                          {roles: lead, scope: "record"},
	"POST /plans/{atlas_id}/check":                    {roles: all, pin: true, scope: "read"},
	"POST /plans/{atlas_id}/file":                     {roles: lead, scope: "record"},
	"GET /plans/{atlas_id}/{plan_id}/file":            {roles: all, pin: true, scope: "read"},
	"POST /plans/{atlas_id}/draft":                    {roles: all, pin: true, scope: "read"},
	"GET /plans/{atlas_id}/{plan_id}/draft":           {roles: all, pin: true, scope: "read"},
	"POST /plans/{atlas_id}/compare":                  {roles: all, pin: true, scope: "read"},
	"PUT /plans/{atlas_id}/{plan_id}":                 {roles: lead, scope: "record"},
	"PUT /plans/{atlas_id}/{plan_id}/retired":         {roles: lead, scope: "record"},
	"GET /plans/{atlas_id}/{plan_id}/versions":        {roles: all, pin: true, scope: "read"},
	"POST /plans/{atlas_id}/{plan_id}/steps":          {roles: all, pin: true, scope: "read"},
	"GET /ingredients":                                {roles: all, pin: true, scope: "read"},
	"POST /ingredients":                               {roles: prices, scope: "record"},
	"PUT /ingredients/{ingredient_id}":                {roles: prices, scope: "record"},
	"POST /forecast":                                  {roles: all, pin: true, scope: "read"},
	"GET /search":                                     {roles: all, pin: true, scope: "read"},
	"GET /lots":                                       {roles: all, pin: true, scope: "read"},
	"POST /lots":                                      {roles: receive, pin: true, scope: "record"},
	"POST /lots/import":                               {roles: receive, scope: "record"},
	"GET /lots/{lot_id}/claim.pdf":                    {roles: all, pin: true, scope: "read"},
	"GET /lots/{lot_id}/tags.pdf":                     {roles: all, pin: true, scope: "read"},
	"GET /lots/{lot_id}":                              {roles: all, pin: true, scope: "read"},
	"PUT /lots/{lot_id}":                              {roles: receive, pin: true, scope: "record"},
	"PUT /lots/{lot_id}/void":                         {roles: prices, pin: true, scope: "record"},
	"PUT /pieces/{piece_id}/void":                     {roles: prices, pin: true, scope: "record"},
	"GET /pieces":                                     {roles: all, pin: true, scope: "read"},
	"GET /readiness":                                  {roles: all, pin: true, scope: "read"},
	"GET /readiness.ics":                              {roles: all, pin: true, scope: "read"},
	"GET /pieces/{piece_id}":                          {roles: all, pin: true, scope: "read"},
	"GET /pieces/{piece_id}/ageing":                   {roles: all, pin: true, scope: "read"},
	"PUT /pieces/{piece_id}/plan":                     {roles: decide, pin: true, scope: "record"},
	"POST /pieces/{piece_id}/breakdown":               {roles: cut, pin: true, scope: "record"},
	"GET /breakdowns":                                 {roles: all, pin: true, scope: "read"},
	"POST /breakdowns/import":                         {roles: lead, scope: "record"},
	"GET /breakdowns/export":                          {roles: all, scope: "read"},
	"GET /breakdowns/{breakdown_id}/stream":           {roles: all, pin: true, scope: "read"},
	"GET /breakdowns/{breakdown_id}":                  {roles: all, pin: true, scope: "read"},
	"GET /breakdowns/{breakdown_id}/events":           {roles: all, pin: true, scope: "read"},
	"POST /breakdowns/{breakdown_id}/again":           {roles: cut, pin: true, scope: "record"},
	"PUT /breakdowns/{breakdown_id}/bench":            {roles: cut, pin: true, scope: "record"},
	"POST /breakdowns/{breakdown_id}/events":          {roles: cut, pin: true, scope: "record"},
	"GET /breakdowns/{breakdown_id}/yields":           {roles: all, pin: true, scope: "read"},
	"POST /batches":                                   {roles: cut, pin: true, scope: "record"},
	"GET /batches/{batch_id}":                         {roles: all, pin: true, scope: "read"},
	"POST /batches/{batch_id}/events":                 {roles: cut, pin: true, scope: "record"},
	"GET /batches/{batch_id}/stream":                  {roles: all, pin: true, scope: "read"},
	"GET /benches/{bench_id}/probe/stream":            {roles: all, pin: true, scope: "read"},
	"POST /benches/{bench_id}/probe/command":          {roles: cut, pin: true, scope: "record"},
	"GET /breakdowns/{breakdown_id}/judgement":        {roles: all, pin: true, scope: "read"},
	"GET /breakdowns/{breakdown_id}/comparison":       {roles: all, pin: true, scope: "read"},
	"GET /same-meat":                                  {roles: all, pin: true, scope: "read"},
	"GET /prices":                                     {roles: all, pin: true, scope: "read"},
	"GET /prices/export":                              {roles: all, scope: "read"},
	"POST /prices/import":                             {roles: prices, scope: "prices"},
	"POST /prices/copy":                               {roles: prices},
	"PUT /prices":                                     {roles: prices, scope: "prices"},
	"POST /prices/raised":                             {roles: prices, scope: "prices"},
	"PUT /prices/{product_key}":                       {roles: prices, scope: "prices"},
	"PUT /prices/{product_key}/name":                  {roles: prices, scope: "prices"},
	"POST /prices/guesses":                            {roles: prices, scope: "prices"},
	"DELETE /prices/guesses":                          {roles: prices, scope: "prices"},
	"GET /benches/{bench_id}/scale/stream":            {roles: all, pin: true, scope: "read"},
	"POST /benches/{bench_id}/scale/command":          {roles: cut, pin: true, scope: "record"},
	"GET /tastings":                                   {roles: all, pin: true, scope: "read"},
	"POST /tastings":                                  {roles: prices, scope: "record"},
	"GET /tastings/{tasting_id}":                      {roles: all, pin: true, scope: "read"},
	"PUT /tastings/{tasting_id}":                      {roles: prices, scope: "record"},
	"PUT /tastings/{tasting_id}/sheets":               {roles: receive, pin: true, scope: "record"},
	"POST /tastings/{tasting_id}/sheets":              {roles: receive, scope: "record"},
	"PUT /tastings/{tasting_id}/samples/{code}/cores": {roles: receive, pin: true, scope: "record"},
	"GET /tastings/{tasting_id}/export":               {roles: all, scope: "read"},
	"GET /tastings/{tasting_id}/sheets.pdf":           {roles: receive, pin: true, scope: "record"},
	"GET /tastings/{tasting_id}/serving.pdf":          {roles: all, pin: true, scope: "read"},
	// counts with the link on an eater's sheet only
	"GET /taste/{link}":                                  {open: everybody},
	"PUT /taste/{link}/{code}":                           {open: everybody}, // likewise
	"GET /trials":                                        {roles: all, pin: true, scope: "read"},
	"POST /trials":                                       {roles: lead, scope: "record"},
	"GET /trials/needed":                                 {roles: all, pin: true, scope: "read"},
	"GET /trials/{trial_id}":                             {roles: all, pin: true, scope: "read"},
	"PUT /trials/{trial_id}/void":                        {roles: lead, scope: "record"},
	"GET /grades/{atlas_id}":                             {roles: all, pin: true, scope: "read"},
	"GET /eating":                                        {roles: all, pin: true, scope: "read"},
	"PUT /eating":                                        {roles: owner},
	"POST /eating/preview":                               {roles: owner, scope: "read"},
	"POST /given/import":                                 {roles: prices, scope: "record"},
	"GET /cook/{atlas_id}/{product_id}":                  {open: everybody}, // nothing of a shop in it
	"GET /cook/{atlas_id}/{product_id}/card.pdf":         {open: everybody},
	"POST /cooking/timetable":                            {roles: all, pin: true, scope: "read"},
	"POST /cooking/probe":                                {roles: all, pin: true, scope: "read"},
	"POST /cooking/probe/import":                         {roles: all, pin: true, scope: "read"},
	"POST /calc/balance":                                 {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/joint-cost":                              {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/panel":                                   {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/serving-plan":                            {open: inDemo, roles: all, pin: true, scope: "calc"},
	"GET /markets":                                       {roles: all, pin: true, scope: "read"},
	"POST /markets":                                      {roles: lead, scope: "prices"},
	"PUT /markets/{market_id}":                           {roles: lead, scope: "prices"},
	"GET /price-book":                                    {roles: all, pin: true, scope: "read"},
	"PUT /quotes":                                        {roles: prices, scope: "prices"},
	"DELETE /quotes/{quote_id}":                          {roles: prices, scope: "prices"},
	"GET /demands":                                       {roles: all, pin: true, scope: "read"},
	"PUT /demands":                                       {roles: prices, scope: "prices"},
	"POST /prices/feed":                                  {roles: prices, scope: "prices"},
	"POST /comparisons":                                  {roles: all, pin: true, scope: "read"},
	"GET /history":                                       {roles: all, pin: true, scope: "read"},
	"GET /history/pieces":                                {roles: all, pin: true, scope: "read"},
	"POST /carcasses/{carcass_id}/value":                 {roles: all, pin: true, scope: "read"},
	"POST /best-use":                                     {roles: all, pin: true, scope: "read"},
	"POST /reports":                                      {roles: all, scope: "read"},
	"GET /shares":                                        {roles: prices, scope: "read"},
	"POST /shares":                                       {roles: prices, scope: "record"},
	"DELETE /shares/{share_id}":                          {roles: prices, scope: "record"},
	"GET /shared/{share_link}":                           {open: everybody}, // counts with the link alone
	"GET /orders":                                        {roles: all, pin: true, scope: "read"},
	"POST /orders":                                       {roles: receive, scope: "record"},
	"POST /orders/whole":                                 {roles: receive, scope: "read"},
	"GET /orders/needs":                                  {roles: all, pin: true, scope: "read"},
	"GET /orders/products":                               {roles: all, pin: true, scope: "read"},
	"GET /orders/export":                                 {roles: all, scope: "read"},
	"GET /orders.ics":                                    {roles: all, scope: "read"},
	"GET /orders/{order_id}":                             {roles: all, pin: true, scope: "read"},
	"PUT /orders/{order_id}":                             {roles: receive, scope: "record"},
	"PUT /orders/{order_id}/state":                       {roles: receive, scope: "record"},
	"PUT /orders/{order_id}/pieces":                      {roles: receive, scope: "record"},
	"POST /orders/{order_id}/packs":                      {roles: all, pin: true, scope: "record"},
	"PUT /orders/{order_id}/packs/{event_id}/undo":       {roles: all, pin: true, scope: "record"},
	"GET /orders/{order_id}/sheet.pdf":                   {roles: all, pin: true, scope: "read"},
	"GET /orders/{order_id}/slip":                        {roles: all, scope: "read"},
	"GET /day":                                           {roles: all, pin: true, scope: "read"},
	"PUT /day":                                           {roles: lead, scope: "record"},
	"DELETE /day":                                        {roles: lead, scope: "record"},
	"GET /day/export":                                    {roles: all, scope: "read"},
	"GET /labels":                                        {roles: all, pin: true, scope: "read"},
	"PUT /labels/settings":                               {roles: lead, scope: "record"},
	"PUT /labels/codes/{product_key}":                    {roles: lead, scope: "record"},
	"POST /labels/pack":                                  {roles: all, pin: true, scope: "record"},
	"POST /labels/pdf":                                   {roles: all, pin: true, scope: "record"},
	"POST /labels/print":                                 {roles: all, pin: true, scope: "record"},
	"POST /tickets/pdf":                                  {roles: all, pin: true, scope: "read"},
	"GET /goods":                                         {roles: all, pin: true, scope: "read"},
	"PUT /goods/begin":                                   {roles: lead, scope: "record"},
	"GET /goods/events":                                  {roles: all, pin: true, scope: "read"},
	"POST /goods/events":                                 {roles: all, pin: true, scope: "record"},
	"PUT /goods/events/{event_id}/undo":                  {roles: all, pin: true, scope: "record"},
	"GET /goods/export":                                  {roles: all, scope: "read"},
	"GET /fat-tests":                                     {roles: all, pin: true, scope: "read"},
	"POST /fat-tests":                                    {roles: receive, pin: true, scope: "record"},
	"DELETE /fat-tests/{fat_test_id}":                    {roles: prices, scope: "record"},
	"GET /recipes":                                       {roles: all, pin: true, scope: "read"},
	"POST /recipes":                                      {roles: prices, scope: "record"},
	"PUT /recipes/{recipe_id}":                           {roles: prices, scope: "record"},
	"GET /recipes/{recipe_id}/scaled":                    {roles: all, pin: true, scope: "read"},
	"POST /blend":                                        {roles: all, pin: true, scope: "read"},
	"PUT /blend/value":                                   {roles: prices, scope: "prices"},
	"GET /makings":                                       {roles: all, pin: true, scope: "read"},
	"POST /makings":                                      {roles: cut, pin: true, scope: "record"},
	"GET /makings/{making_id}":                           {roles: all, pin: true, scope: "read"},
	"DELETE /makings/{making_id}":                        {roles: cut, pin: true, scope: "record"},
	"POST /makings/{making_id}/events":                   {roles: cut, pin: true, scope: "record"},
	"PUT /makings/{making_id}/events/{event_id}/undo":    {roles: cut, pin: true, scope: "record"},
	"PUT /makings/{making_id}/close":                     {roles: cut, pin: true, scope: "record"},
	"PUT /makings/{making_id}/reopen":                    {roles: decide, pin: true, scope: "record"},
	"GET /makings/{making_id}/sheet.pdf":                 {roles: all, pin: true, scope: "read"},
	"GET /makings/{making_id}/origin":                    {roles: all, pin: true, scope: "read"},
	"GET /lots/{lot_id}/recall":                          {roles: all, pin: true, scope: "read"},
	"GET /lots/{lot_id}/recall/export":                   {roles: all, scope: "read"},
	"POST /calc/fit":                                     {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/section":                                 {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/portion":                                 {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/learning":                                {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/label":                                   {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/rate-ratio":                              {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/blend":                                   {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/best-use":                                {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/yield-grade":                             {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /calc/trial":                                   {open: inDemo, roles: all, pin: true, scope: "calc"},
	"POST /breakdowns/{breakdown_id}/judgement/confirm":  {roles: receive, pin: true, scope: "record"},
	"PUT /breakdowns/{breakdown_id}/judgement/{part_id}": {roles: receive, pin: true, scope: "record"},
}

// allows says whether somebody who came in so, in a role or with scopes, may.
func (r right) allows(role, via string, scopes []string) bool {
	switch via {
	case "token":
		return r.scope != "" && slices.Contains(scopes, r.scope)
	case "pin":
		return r.pin && slices.Contains(r.roles, role)
	default:
		return slices.Contains(r.roles, role)
	}
}
