// What one can do on each page, in five lines at most.
import { say } from '../words/say'

export const help: Record<string, string[]> = {
  rail: [
    say('Every piece hangs at the stage that it waits for; select it to go on with it there.'),
    say('Hatched parts of a small map are off already. Pieces that wait for their age are folded below.'),
    say('Search and filters narrow the rail and stay in the address.'),
    say('Receive brings new pieces in. Press / to find anything else.'),
  ],
  ready: [
    say('When each piece is old enough for each way of cutting, and until when it may be minced.'),
    say('Select a piece to plan it. Select a head of the table to sort by it.'),
    say('The calendar file holds the same days; with a token a calendar can subscribe to it.'),
  ],
  receive: [
    say('Type any name of the piece, then count, weight, price and days; Tab goes on, Enter keeps it.'),
    say('Days as you say them: −9 for nine days ago, 16.11., or touch the calendar.'),
    say('The forecast beside it says what each plan would bring before anything is cut.'),
    say('Tick what you found on looking it over; it changes what can be cut of it.'),
  ],
  note: [
    say('Choose the delivery note as CSV or XLSX; drop it anywhere on the field.'),
    say('Each line is shown with what it would do, and what is wrong with it, before anything is kept.'),
    say('Lines that are wrong are left out; correct the file and read it again.'),
  ],
  lots: [
    say('Every delivery, newest first. Type a word of its number, piece or supplier.'),
    say('Select a lot to see its pieces, to correct it with a reason, or to void it.'),
  ],
  lot: [
    say('What came in, where on the animal it comes from, where its pieces hang, and who changed what.'),
    say('Correct it with a reason: what is on a bench already keeps what it weighed.'),
    say('Voiding takes it off the rail; nothing is deleted, and it can be taken back.'),
  ],
  plan: [
    say('Each column is a way to cut this very piece: what it brings, takes and gives.'),
    say('Choose one; what can be chosen within it then shows beside the map.'),
    say('The line at the foot puts it on a bench, alone or with the others of its lot.'),
    say('Line by line, with prices: open the ledger. A price changed there is the shop’s own.'),
  ],
  log: [
    say('Everything that was cut. Type any words of piece, lot, supplier, plan or cutter.'),
    say('Select a piece to go through its cutting event by event.'),
    say('What is listed can be taken away as CSV, XLSX or JSON.'),
  ],
  replay: [
    say('Move the slider, or use the arrow keys, to see the piece after each event.'),
    say('Undone weighings are shown too: nothing in the log is ever removed.'),
  ],
  stock: [
    say('What was cut or made and lies here; first what must go first. Trim, trays and made goods stand apart.'),
    say('Select a tub to say what becomes of it: sold, thrown away, moved, counted, dated. Each can be taken back.'),
    say('A fat test of a tub corrects what the atlas says of such trim, the more the more tests there are.'),
  ],
  orders: [
    say('Open orders by when they are due; below, what must still be cut for them beyond what lies in stock.'),
    say('Select one to pack it, to print its papers, or to hand it over.'),
    say('Best use and the day cut for open orders. The calendar can be subscribed to with a token.'),
  ],
  order: [
    say('Pack a line from the tub that must go first, by scale or typed; it leaves the stock, and can be taken back.'),
    say('What is paid is what was weighed. Handing over ends the order; it can be opened again.'),
    say('Pieces that are cut for it are in time for it on the day.'),
  ],
  'order-new': [
    say('Products by weight or by packs, at the list’s price or an agreed one.'),
    say('Or a whole animal: each of its pieces cut to the customer’s wish, all of it at one price.'),
  ],
  'order-edit': [
    say('Change what is wanted and when. A line of which something is packed stays what it is.'),
    say('A whole animal can be cut otherwise as long as nothing of it is packed.'),
  ],
  learning: [
    say('Each piece with what you know of it, what is due today, how many you cut, and which steps were signed off.'),
    say('Open a piece to practise one drill of it, to see your minutes over time, and what a head cutter said.'),
    say('A question comes back after a day, then six, then longer each time it was right.'),
    say('Head cutters and owners may look at others; nobody else does. The record is a page to print.'),
  ],
  drill: [
    say('Touch the answer, or press its number. Enter goes on.'),
    say('Where a muscle is asked for, touch it on the map, or turn the block in space and touch it there.'),
    say('Taking apart, any order that the plan allows is right; a touch too early says what would be ruined.'),
    say('Say when you guessed, or when it was too easy: it comes back sooner, or later.'),
  ],
  practice: [
    say('The piece beside the house: minutes, weights, what was left on bones, portions too heavy.'),
    say('A head cutter signs off each step, or says what to practise. What was said last counts.'),
    say('Notes and photographs of the piece stand below; only you and who leads the cutting see them.'),
  ],
  week: [
    say(
      'What a week’s kill should become: for each kind of carcass one division, for its pieces how many go which way.',
    ),
    say('It keeps to bench and saw minutes, what a week sells and open orders; change them above and reckon again.'),
    say('Beside it stand everything traditional and everything seamed, and how each fares over 1,000 weeks.'),
    say('What one more carcass would bring is what to pay for it at most.'),
  ],
  sales: [
    say('Read a till’s file once a week, or fetch it: say once which column is which and what the till’s names mean.'),
    say('Each product shows what a week sells and between what one can be sure; select it for its weeks and days.'),
    say('One touch makes it the demand that best use and the whole carcass go by.'),
    say('Two names for the same cut can take turns by week; the page says which sells faster, once it can.'),
    say('A file that was wrong can be taken back.'),
  ],
  'stock-reduce': [
    say('What should be sold for less before its use-by: today, by how much, and what that brings against waiting.'),
    say('Select a tub for its days; reduce it with a touch and a reason. Labels say the new price.'),
    say('Where it will not sell, part of it is better diced, minced or frozen while it is fresh.'),
  ],
  counter: [
    say(
      'The counter from above, true to size: what stands where, how many trays, by what sells today and what there is.',
    ),
    say('Like faces together, bony beside meaty, half of a stack turned; what has no tray’s worth stays out.'),
    say('Make a link for a screen above the counter; it shows names, prices and how to cook, and nothing else.'),
    say('Say below how large the counter and its trays are.'),
  ],
  instead: [
    say('Somebody asks for a cut: see what costs less on the plate and is as sure to eat as well.'),
    say('Choose how it will be cooked; grades are by method.'),
  ],
  labels: [
    say('Choose a tub and weigh the pack: the label is drawn as it will be printed.'),
    say('Print it on the label printer of a bench, or take it as PDF, one by one or as a sheet.'),
    say('What the law asks for and nobody has said is named; say it at arrival and in the settings below.'),
    say('Price tickets for the counter: tick what stands there, eight on a page.'),
  ],
  day: [
    say('Who cuts what when: each row is a bench. Hatched is the saw; a dashed line is when an order is due.'),
    say('Say who stands where, tick what is cut, and lay it out; pin a piece to a bench where it must be there.'),
    say('Lamb and beef are kept apart by cleaning, allergens come last, the saw takes one piece at a time.'),
    say('Where the work falls behind, lay out anew what is left; what was begun stays.'),
  ],
  'stock-count': [
    say('Choose a room, and type what is there of each tub; Enter goes on. The log’s figure is hidden until you ask.'),
    say('Compare shows what is missing, in kilos and money; say why, and book all of it at once.'),
    say('What was typed stays in this browser until it is booked.'),
  ],
  'stock-log': [
    say('Everything that became of the stock, the latest first.'),
    say('Take back what was booked wrongly; what went into a batch is taken back at the batch.'),
  ],
  recall: [
    say('All that anything of this lot may be in: what was cut of it, and what was made of that.'),
    say('Take the list away as CSV or XLSX. What lies in one tub counts as mixed.'),
  ],
  blend: [
    say(
      'Tick the tubs and the recipes; the answer says what should become of what, so that the whole brings the most.',
    ),
    say('At least and at most bound how much is made. Cost least makes exactly what must be made.'),
    say('Begin a batch from the answer; what is to go in stands on it.'),
    say('One more kilo says what a tub is really worth; comparisons can value trim by that.'),
  ],
  making: [
    say('Weigh what goes in, what is added and what comes out; from a bench’s scale, or typed.'),
    say('What is not found is what the mincer kept; where it is much, say why.'),
    say('Once it is made it lies in stock under its lot number, and leads back to the pieces.'),
  ],
  recipes: [
    say('What you make: scaled to what there is, costed, with what its label must say.'),
    say('A recipe without meat can be an ingredient of your plans: a stuffing, a rub, a brine.'),
    say('Limits of lean and collagen, the law’s name and sources bind what the tubs are blended to.'),
  ],
  judge: [
    say('For each muscle, how it scores by each method; the house’s best is marked.'),
    say('Confirm methods takes the best for all. Another method needs its reason.'),
    say('Open a score to see what it rests on: estimate, eaters, age.'),
  ],
  compare: [
    say('What this piece brought against another way to cut the same piece, after all costs.'),
    say('Each bar is what one muscle gained or lost; point at it to see the muscle on the map.'),
    say('Choose what to compare with; prices are those of the day it was closed, or today’s.'),
    say('Every figure can be printed, kept as a picture, or taken further at the desk.'),
  ],
  settings: [
    say('What the whole shop reckons with: currency, unit, wages, packaging, loss limits, seasons.'),
    say('Fields in error keep what you typed and say the way out.'),
    say('Pieces that are closed keep the rates of their day.'),
  ],
  prices: [
    say('The default price of each product, and what each market pays; bold is a market’s own.'),
    say('Touch a default price to change it for the whole shop; Undo takes it back.'),
    say('Narrow the list, then change what is shown by a percentage: it is seen before it is saved.'),
    say('A list comes in as CSV or XLSX, and goes out the same way.'),
  ],
  ingredients: [
    say('What is added to meat: stuffing, spice, net, string; its price and the allergens that it brings.'),
    say('What plans ask for and the shop has none of stands at the top; add it with its price.'),
    say('Without a price, what is made with it looks cheaper than it is; answers say so.'),
    say('An ingredient out of use stays with what was made with it.'),
  ],
  people: [
    say('Who works here and what each may do. Change opens a person below their line.'),
    say('A link lets somebody in once, for 72 hours. A PIN is for the benches.'),
    say('Blocking access signs somebody out everywhere; what they did stays.'),
  ],
  benches: [
    say('Each bench with its scale and the screens that are enrolled for it.'),
    say('A code enrols a screen once; the screen then belongs to that bench.'),
    say('How far a scale counts and how long a bench waits are set here.'),
  ],
  tokens: [
    say('A token lets a program in, with the permissions that you tick, until its last day.'),
    say('It is shown once: copy it at once. Revoking it shuts the program out at once.'),
  ],
  audit: [
    say('Who changed what, when, and from where. Nothing here can be changed or removed.'),
    say('Coming and going is left out unless you ask for everything.'),
    say('What is listed goes out as CSV, XLSX or JSON.'),
  ],
  plans: [
    say('Any two ways to cut a piece of any weight, side by side, with what differs between them.'),
    say('Plans of your own begin as a copy of one; the copy can be changed freely.'),
  ],
  'plan-new': [
    say('Begin with a plan that comes close; then say where each muscle goes.'),
    say('Every gram must go somewhere: what is left over is shown until nothing is.'),
    say('Saving keeps a version; pieces that were cut by an earlier one keep that.'),
  ],
  'plan-steps-new': [
    say('Steps stand in the order in which they are done. Select one to change it; touch the map to say what leaves.'),
    say('What does not leave stays joined, and can be worked on as a block later.'),
    say('What is wrong stands at its step; what no step moves yet is listed below the map.'),
    say('Undo takes the last change back.'),
  ],
  'plan-steps-edit': [
    say('Steps stand in the order in which they are done. Select one to change it; touch the map to say what leaves.'),
    say('Saving keeps a version; pieces that were cut by an earlier one keep that.'),
  ],
  'plan-edit': [
    say('Select a muscle on the map to say where it goes.'),
    say('Every gram must go somewhere: what is left over is shown until nothing is.'),
    say('Saving keeps a version; pieces that were cut by an earlier one keep that.'),
  ],
  atlas: [
    say('Touch a piece on the animal, or in the list, to open it. Areas are true to weight.'),
    say('Choose beef or lamb, and how the carcass is divided.'),
    say('Or type any name: house, market, Latin, item number; a misspelt one is found too.'),
  ],
  carcass: [
    say('What a usual carcass comes to, how it is divided, and what else could be pulled.'),
    say('Select a piece to see its muscles and plans.'),
  ],
  'atlas-piece': [
    say('Select a muscle on the map for its seam, grain, scores and where it goes.'),
    say('Numbers count the order in which the seams are cut.'),
    say('The seam card prints on one page and hangs over the bench.'),
  ],
  grades: [
    say('How each muscle eats by each method, deeper is better; the number is the grade.'),
    say('Select a cell to see what its score rests on and how sure it is.'),
    say('A tasting makes a grade surer: those that rest on an estimate alone say so.'),
  ],
  'grade-settings': [
    say('How tenderness, juiciness and flavour count towards a score, and what age and fat do.'),
    say('Saving recalculates every grade; what people tasted stays as it was.'),
    say('Scores that suppliers give are imported here.'),
  ],
  'same-meat': [
    say('One muscle is sold under many names. Here they stand together, with what a kilogram of each costs to eat.'),
    say('Bone and waste are not eaten; fat that is sold with it is.'),
  ],
  tastings: [
    say('Every tasting, open and closed. Plan one to make grades rest on eaters.'),
    say('Scores count once a tasting is closed.'),
  ],
  'tasting-new': [
    say('Take what is proposed, or select muscle and method in the table.'),
    say('Codes and serving orders are drawn for you, so that nobody knows what they eat.'),
    say('Each eater gets a link or a sheet of paper.'),
  ],
  tasting: [
    say('Give each eater their link, or print the sheets and type them in.'),
    say('Close the tasting to let its scores count; what is left out, and why, is said.'),
  ],
  cooking: [
    say('Select cuts, how many eat, and when: the timetable says when to do what, with one oven.'),
    say('How done is asked only where a cut can be served so.'),
    say('Print the timetable. A probe log below says when a centre was safe.'),
  ],
  desk: [
    say('The answer first; open the question above it to change what is compared.'),
    say('Sides can be plans, pieces that were cut, or groups of them.'),
    say('The whole question stands in the address: bookmark it, or send it to a colleague.'),
    say('Every answer goes out as PDF, XLSX or CSV, or as a link for others.'),
  ],
  'best-use': [
    say('What today’s pieces should become, within the minutes and what sells.'),
    say('Settle a piece or leave it out, and see what that costs.'),
    say('Apply sets the plans of all of them at once.'),
  ],
  'carcass-value': [
    say('What a carcass leaves when each piece is cut by a plan of its own, for a week’s kill.'),
    say('Swap one piece’s plan to see what that alone changes.'),
    say('What is made beyond what sells in a week is shown, and what that costs.'),
  ],
  history: [
    say('What finished pieces gave, week by week or by cutter, supplier, plan.'),
    say('Large points lie outside of what chance alone would do; select one for its pieces.'),
    say('Filters stay in the address; the chart is kept as PNG or SVG.'),
  ],
  shares: [say('Reports that others may see by a link, and until when.'), say('Ending a link shuts it at once.')],
  trials: [
    say('Left and right of the same animal, cut each way: is a difference real, or luck?'),
    say('Design a trial with at least five pairs; the program says who cuts which first.'),
  ],
  trial: [
    say('Each line is a pair: left and right of one animal, cut each way.'),
    say('The verdict comes first; the figures behind it stand below.'),
  ],
  me: [say('Your password, your PIN, and where you are signed in.'), say('Sign out everywhere if a screen was lost.')],
}
