// The page as rows of elements: once each, those that hold others before them, each with its place in the order of painting.
const MOST = 12000, SMALL = 4, CLEAR = 0.05, TINY = 4, GRIP_AREA = 64 * 64, ALIVE_MS = 8000, STEADY_MS = 400, ACROSS_POINTS = 12, DOWN_POINTS = 36, FEW = 24, SPARE = 300;
const rows = [], nodes = [], keys = [], row_of = new Map(), placed = new Set(), above = [], afloat = [];
const overlays = [], floats = new Map(); // what floats over the page: its box, its rows, and whether it stays put while the page scrolls
const GRIPS = new Set(["grab", "move", "ns-resize", "row-resize"]); // the pointer over that by which something is carried
const ASIDE = [[0.15, 0.5], [0.85, 0.5], [0.5, 0.2], [0.5, 0.8], [0.1, 0.15], [0.9, 0.15], [0.1, 0.85], [0.9, 0.85]];
const hits = []; // pairs of rows: the one asked for, and the one that is hit in its middle instead
const spots = []; // where to touch an element whose middle is not hit
const stops = []; // of the tabulator: a row, its element, the layer it stands in
const plates = new Set(); // elements without words that cover something: they get rows when the page is read again
const unseen = new Set(), holding = new Set(); // elements out of sight; those of them with something in sight inside
const under_modal = !!document.querySelector(":modal"); // then no point tells what lies under it, so that all has to be walked
const stirring = new Set(); // elements that are fading or on their way, by an animation that ends
let layer = 0, layers = 0, spare = 0; // elements out of sight that may still be looked at

const short = (side) => Math.round(side * 10) / 10;

function add(el, parent, role, text, label, hint, id, box, flags, kind, key) {
  const scrolled = el && flags & SCROLLABLE ? Math.max(0, el.scrollTop) * scale : 0;
  rows.push([parent, role, text, label, hint, id, short(box[0]), short(box[1]), short(box[2]), short(box[3]), flags, -1, kind, scrolled, el && role === "slider" ? limits_of(stands_for(el) || el) : null]);
  nodes.push(el);
  keys.push(key);
  if (el) row_of.set(el, rows.length - 1);
  return rows.length - 1;
}

function inside_of(el) {
  if (el.shadowRoot) return Array.from(el.shadowRoot.children);
  if (el.tagName === "SLOT") { const given = el.assignedNodes({ flatten: true }); if (given.length) return given; }
  return children_of(el);
}

// Some sliders report only their knob. Their box is the track that the knob moves along.
function track_of(el, box, at) {
  if (el.tagName === "INPUT" || box[2] - box[0] > 64) return box;
  const ends = limits_of(el), value = Number(el.getAttribute("aria-valuenow")), middle = (box[0] + box[2]) / 2;
  const share = ends && Number.isFinite(value) ? (value - ends[0]) / (ends[1] - ends[0]) : NaN;
  let found = box, off = Infinity;
  for (let here = outer(el), depth = 0; here && depth < 5; here = outer(here), depth++) {
    if (here.nodeType !== 1) continue;
    const r = rect_of(here, at);
    if (r[2] - r[0] <= 3 * (box[2] - box[0]) || r[3] - r[1] >= 96) continue;
    const stands = (middle - r[0]) / (r[2] - r[0]), away = Number.isNaN(share) ? 0 : Math.min(Math.abs(stands - share), Math.abs(1 - stands - share));
    if (away < off - 0.02) { found = r; off = away; } // what is filled up to the knob is no track: the knob stands at its end
  }
  return found;
}

const is_modal = (el, tag) => tag === "DIALOG" && el.open && el.matches(":modal");
const is_popover = (el) => el.hasAttribute("popover") && CSS.supports("selector(:popover-open)") && el.matches(":popover-open");

// Does an element out of sight hold so few others that they can all be looked at? One of them may be placed in sight.
function few_in(el) {
  const count = el.getElementsByTagName("*").length;
  if (count > FEW || count > spare) return false;
  spare -= count;
  return true;
}

// `where`: the row of the parent; the boxes that clip it in the flow, when absolute and when fixed (null: the window); the offset of its
// frame; whether the parent has a pointer cursor; the painting order; whether it is a flex or grid item; whether it is inert.
function walk(el, where) {
  const before = layer, first = rows.length;
  walk_into(el, where);
  layer = before;
  const seen = floats.get(el);
  if (seen) overlays.push([short(seen[0]), short(seen[1]), short(seen[2]), short(seen[3]), first, rows.length, seen[4]]);
}

// Fixed parts, modal dialogs and popovers are walked after the rest, in painting order.
function lifted(el, tag, style, told_of, where) {
  if (placed.has(el)) return false;
  const top = is_modal(el, tag) || (told_of && is_popover(el));
  if (!top && (style.position !== "fixed" || where.fixed)) return false;
  placed.add(el);
  if (where.frame) return false; // in a frame it stands in that
  const key = top ? [TOP, 1, painted++] : [...where.context, parseInt(style.zIndex, 10) || 0, 1, painted++];
  above.push([key, el, where]);
  return true;
}

function walk_into(el, where) {
  const tag = el.tagName.toUpperCase(), told_of = el.hasAttributes(), parent = where.parent, at = where.at;
  if (PASSED.has(tag) || rows.length >= MOST) return;
  const style = getComputedStyle(el), display = style.display;
  if (display === "none" || lifted(el, tag, style, told_of, where)) return;
  const position = style.position, contents = display === "contents";
  const opacity = style.opacity, clear = opacity !== "1" && opacity < CLEAR; // nobody sees it; what can be hit in it is a control drawn elsewhere
  if (clear && style.pointerEvents === "none" && !(tag === "INPUT" && TOGGLES.has(role_of(el, tag)))) return;
  let clip = where.clip;
  if (position === "absolute") clip = where.abs;
  else if (position === "fixed") clip = where.fixed || whole;
  let box = contents ? clip : rect_of(el, at);
  let hidden = contents ? null : stands_for(el);
  if (hidden && rows[parent][1] === role_of(hidden, "INPUT")) hidden = null; // what holds it says so itself
  const shown = !contents && style.visibility === "visible";
  if (!contents && !empty(box) && empty(cut(box, clip)) && el.scrollHeight <= el.clientHeight + 1 &&
      el.scrollWidth <= el.clientWidth + 1 && !el.shadowRoot && tag !== "LABEL" && tag !== "SLOT" && display !== "inline" && !under_modal && !holding.has(el)) {
    const toggle = tag === "INPUT" && (el.type === "checkbox" || el.type === "radio");
    if (!toggle && !few_in(el)) { unseen.add(el); return; }
  }
  if (told_of && !contents && el.getAttribute("aria-hidden") === "true") {
    const mine = cut(box, clip);
    const top = empty(mine) ? null : point((mine[0] + mine[2]) / 2, (mine[1] + mine[3]) / 2);
    if (!top || holds(el, top)) return; // it is only an ornament; what a dialog stands over is kept
  }
  const styled = !!el.shadowRoot || (told_of && (el.hasAttribute("class") || el.hasAttribute("style") || el.id !== "") && !!first_of(el));
  if (el.shadowRoot) note_stirring(el.shadowRoot);
  const stirs = where.stirs || stirring.has(el);
  const [key, context, flow] = where.key ? [where.key, where.key, where.key] : painting(where, style, position, styled);
  if (position !== "static" && shown) afloat.push(el, cut(box, clip));
  const stays = position === "fixed" || position === "sticky" || tag === "DIALOG" || !!where.top;
  if (stays || (position === "absolute" && parseInt(style.zIndex, 10) > 0)) {
    layer = ++layers;
    const seen = cut(box, clip);
    if (shown && !empty(seen) && style.pointerEvents !== "none") floats.set(el, [...seen, stays]);
  }
  const inert = where.inert || (told_of && el.inert);
  let here = parent;
  const cursor = style.cursor, pointing = cursor === "pointer", held = cursor !== "auto" && !pointing && GRIPS.has(cursor);
  const overflow = style.overflowY, wheel = shown && overflow !== "visible" ? wheel_of(el, style) : null;
  if (shown) {
    let role = wheel !== null ? "combobox" : turning.has(el) ? "option" : hidden ? role_of(hidden, "INPUT") : role_of(el, tag), kind = kind_of(el, tag), told = hidden || el;
    if (role === "slider" && !hidden) box = track_of(el, box, at);
    if (TOGGLES.has(role) && el.labels) for (const each of el.labels) {
      const r = rect_of(each, at);
      if (!empty(r)) box = empty(box) ? r : [Math.min(box[0], r[0]), Math.min(box[1], r[1]), Math.max(box[2], r[2]), Math.max(box[3], r[3])];
    }
    if (HOLDS.has(role) && el.labels && el.labels.length && (box[2] - box[0] < TINY || box[3] - box[1] < TINY)) box = rect_of(el.labels[0], at);
    const seen = display === "inline" && !hidden ? largest_of(el, box, clip, at) : cut(box, clip);
    if (!empty(seen)) {
      let flags = flags_of(told, hidden ? "INPUT" : tag, role, style, pointing && !where.pointer);
      if (inert) flags &= ~(ENABLED | CLICKABLE | FOCUSED);
      if (stirs || box[1] < whole[1] - 1 || box[3] > whole[3] + 1) flags |= CUT;
      if (wheel !== null) flags = (flags & ~(SCROLLABLE | ACROSS)) | TURNS;
      if (turning.has(el)) flags = (flags & ~(CLICKABLE | SELECTED)) | (turning.get(el) ? SELECTED : 0);
      const skip = tag === "LABEL" && !hidden && labels_toggle(el);
      const text = wheel !== null ? wheel : skip ? "" : HOLDS.has(role) ? value_of(told, hidden ? "INPUT" : tag, role) : hidden ? "" : text_of(el);
      let label = label_of(told, hidden ? "INPUT" : tag, role);
      if (!label && !text && CONTENT.has(role) && !is_card(el)) label = squeeze(said_in(el, null, 0));
      if (role === "slider" && text && label.endsWith(" " + text)) label = label.slice(0, -text.length - 1); // a pin on its knob
      if (TOGGLES.has(role) && !label && !text) { const around = el.closest("button,[role=button]"); if (around && around !== el) label = squeeze(said_in(around, el, 0)); }
      if (role === "radio" && !label && !text && !el.title) label = numbered(el);
      const tip = told_of ? squeeze(el.getAttribute("title")) : "", title = label || text ? "" : tip;
      const id = told_of ? el.getAttribute("data-testid") || el.id || (tag === "CANVAS" && !label ? id_around(el) : "") : "";
      const hint = told_of ? squeeze(told.getAttribute("placeholder") || told.getAttribute("aria-placeholder")) || tip : "";
      // A fixed part is a row even without a role. One that lets touches through only frames what is in it.
      const stands = style.pointerEvents !== "none" && (position === "fixed" || position === "sticky" ||
        (position === "absolute" && parseInt(style.zIndex, 10) > 0 && area(box) > width * height / 4));
      const unseen_words = (clear || where.clear) && !(flags & (CLICKABLE | CHECKABLE)) && !HOLDS.has(role);
      const grip = !role && !text && !label && held && !where.grip && style.pointerEvents !== "none" && area(seen) < GRIP_AREA;
      if (grip) role = "img";
      if (!skip && !unseen_words && (role || text || label || stands || plates.has(el) || flags & (CLICKABLE | SCROLLABLE | ACROSS)))
        here = add(el, parent, role || (text && !(flags & CLICKABLE) ? "text" : "generic"), text, label || title, hint, id, seen, flags, kind, key || [...where.flow, 0, 0, painted++]);
      if (here !== parent && flags & ENABLED && role !== "radio" && (ACTS.has(role) || told.hasAttribute("tabindex")) && told.tabIndex >= 0)
        stops.push([here, told, layer]);
    }
  }
  if (tag === "SVG" || tag === "SELECT" || tag === "TEXTAREA" || tag === "CANVAS" || tag === "VIDEO") return;
  if (!first_of(el) && !el.shadowRoot && tag !== "SLOT" && tag !== "IFRAME" && tag !== "FRAME") return;
  const reads = overflow !== "visible" && !contents && el !== document.body && el !== document.documentElement;
  const inner = reads ? cut(clip, rect_of(el, at)) : clip;
  const lays = styled && lays_fixed(style);
  const below = {
    parent: here, clip: inner, at, pointer: pointing || (here !== parent && ACTS.has(rows[here][1])), // what is drawn inside of a control is no control of its own
    abs: lays || position !== "static" ? inner : where.abs, fixed: lays ? inner : where.fixed, frame: where.frame,
    context, flow, item: display.endsWith("flex") || display.endsWith("grid"), inert, clear: clear || where.clear, grip: held, stirs,
  };
  if (tag === "IFRAME" || tag === "FRAME") return framed(el, below);
  if (nodes[here] === el && edited(el)) return;
  if (!el.shadowRoot && tag !== "SLOT") for (let each = first_in(el); each; each = beside(each)) walk(each, below);
  else for (const node of inside_of(el)) if (node.nodeType === 1) walk(node, below);
}

function framed(el, where) {
  const page = page_in(el);
  if (!page || !page.body) return;
  const r = el.getBoundingClientRect(), at = where.at, here = where.parent;
  const from = [at[0] + r.left + el.clientLeft, at[1] + r.top + el.clientTop];
  const root = page.scrollingElement || page.documentElement;
  layer = ++layers; // its order is its own
  if (rows[here] && nodes[here] === el && root.scrollHeight > root.clientHeight + 1) {
    rows[here][10] |= SCROLLABLE;
    rows[here][13] = root.scrollTop * scale;
  }
  const clip = cut(where.clip, rect_of(el, at)), key = [...where.flow, 0, 0, painted++];
  walk(page.body, { ...where, at: from, clip, abs: clip, fixed: clip, frame: true, pointer: false, context: key, flow: key, item: false });
}

// Is there anything at a point that does not stand in the flow of the page, and is not what this element stands in?
function under_some(el, x, y) {
  for (let i = 0; i < afloat.length; i += 2) {
    const box = afloat[i + 1];
    if (box[0] <= x && x <= box[2] && box[1] <= y && y <= box[3] && afloat[i] !== el && !afloat[i].contains(el)) return true;
  }
  return false;
}

// Where to touch an element when a touch in its middle goes to its parent: a label and its box with a gap between, or something painted
// behind. [row] alone when no place works.
function aside(row, el) {
  if (getComputedStyle(el).pointerEvents === "none") return;
  const r = rows[row];
  for (const [across, down] of ASIDE) {
    const x = r[6] + across * (r[8] - r[6]), y = r[7] + down * (r[9] - r[7]), top = point(x, y);
    if (top && (holds(el, top) || Array.from(el.labels || []).some((each) => holds(each, top)))) { spots.push([row, short(x), short(y)]); return; }
  }
  spots.push([row]);
}

// Are both parts of one control: is neither what lies over it, nor what holds them both, much larger? What lies over a button or a link
// takes its touches, whatever it is.
function of_one(el, top, r) {
  if (r[1] === "button" || r[1] === "link") return false;
  let both = outer(el);
  while (both && !holds(both, top)) both = outer(both);
  if (both && both.host) both = both.host;
  if (!both || both.nodeType !== 1) return false;
  const most = SMALL * Math.max(1, (r[8] - r[6]) * (r[9] - r[7])) / (scale * scale);
  return [both, top].every((each) => { const box = each.getBoundingClientRect(); return box.width * box.height <= most; });
}

function cover(row) {
  const el = nodes[row], r = rows[row];
  if (!el || r[10] === undefined) return -1;
  const x = (r[6] + r[8]) / 2, y = (r[7] + r[9]) / 2;
  if (!(r[10] & (CLICKABLE | CHECKABLE | SCROLLABLE)) && !under_some(el, x, y)) return -1;
  const top = point(x, y);
  if (!top || top === el || el.contains(top)) return -1;
  let over = -1, plate = null;
  for (let here = top; here; here = outer(here)) {
    if (here === el || (el.labels && Array.prototype.includes.call(el.labels, here))) return -1;
    if (over < 0 && row_of.has(here)) over = row_of.get(here);
    if (over < 0 && here.nodeType === 1 && !plate) plate = here;
  }
  if (over < 0) return -1;
  if (nodes[over] === top) hits.push([row, over]);
  for (let up = row; up >= 0; up = rows[up][0]) {
    if (up !== over) continue;
    if (nodes[over] === top) hits.pop();
    if (plate && !holds(plate, el)) { if (!of_one(el, top, r)) plates.add(plate); }
    else if (r[10] & (CLICKABLE | CHECKABLE) && r[1] !== "slider" && holds(top, el)) aside(row, el); // a slider is its whole track
    return -1;
  }
  for (let up = over; up >= 0; up = rows[up][0]) if (rows[up][1] === "dialog") return up;
  return over;
}

// The rows as the tabulator comes to them, for each layer of its own: what names its place first, then as the page is written.
function tabbed() {
  const found = new Map(), told = [];
  for (const [row, el, on] of stops) {
    if (rows[row][11] >= 0) continue; // something lies over it: where it stands tells nothing
    let top = el;
    for (let host; (host = top.getRootNode().host); ) top = host;
    const place = top.tabIndex > 0 ? top.tabIndex : Infinity;
    if (!found.has(on)) told.push(found.set(on, []).get(on));
    found.get(on).push([place, top, row]);
  }
  const behind = (a, b) => a === b ? 0 : a.compareDocumentPosition(b) & Node.DOCUMENT_POSITION_FOLLOWING ? -1 : 1;
  return told.map((each) => each.sort((a, b) => (a[0] < b[0] ? -1 : a[0] > b[0] ? 1 : behind(a[1], b[1]) || a[2] - b[2])).map((stop) => stop[2]));
}

function running_in(root) {
  return root.getAnimations ? root.getAnimations().filter((each) => {
    const timing = each.effect && each.effect.getComputedTiming();
    return each.playState === "running" && timing && timing.endTime < 3000;
  }) : [];
}

function note_stirring(root) {
  for (const each of running_in(root)) if (each.effect.target) stirring.add(each.effect.target);
}

function read() {
  spare = SPARE;
  note_stirring(document);
  const root = document.scrollingElement || document.documentElement;
  add(null, -1, "generic", "", "", "", "", whole, ENABLED, "", []);
  add(root, 0, "document", "", squeeze(document.title), "", "", whole, ENABLED | (root.scrollHeight > root.clientHeight + 1 ? SCROLLABLE : 0), "", []);
  if (!document.body) return;
  const where = { stirs: false, parent: 1, clip: whole, abs: whole, fixed: null, frame: false, at: origin, pointer: false, context: [], flow: [], item: false, inert: false };
  walk(document.body, where);
  while (above.length) { // what stands over the page may hold what stands over it too
    let next = 0;
    for (let i = 1; i < above.length; i++) if (painted_before(above[i][0], above[next][0]) < 0) next = i;
    const [key, el, from] = above.splice(next, 1)[0];
    walk(el, { ...from, parent: 0, clip: whole, abs: whole, fixed: null, pointer: false, key, top: key[0] === TOP });
  }
}

function covered() {
  spots.length = hits.length = 0;
  for (let row = 2; row < rows.length; row++) rows[row][11] = cover(row);
}

// Finds elements in sight whose parents are out of sight, by asking a grid of points.
function missed() {
  for (let i = 0; i < ACROSS_POINTS; i++) for (let j = 0; j < DOWN_POINTS; j++) {
    const found = point((i + 0.5) * width / ACROSS_POINTS, (j + 0.5) * height / DOWN_POINTS);
    const way = [];
    for (let here = found; here && !row_of.has(here); here = outer(here)) {
      way.push(here);
      if (unseen.has(here)) { for (const each of way) holding.add(each); break; }
    }
  }
}

function anew() {
  for (const each of [rows, nodes, keys, above, afloat, overlays, stops, spots]) each.length = 0;
  for (const each of [row_of, placed, floats, unseen]) each.clear();
  layer = layers = painted = 0;
  read();
}

// The row of the element at a point, or of its closest ancestor that has one; a label that is hit passes the touch on to its control.
function hit(x, y) {
  let first = -1;
  for (let here = point(x, y); here; here = outer(here)) {
    const row = row_of.has(here) ? row_of.get(here) : -1;
    if (first < 0) first = row;
    if (row >= 0 && rows[row][10] & CLICKABLE) break;
    if (here.tagName === "LABEL" && here.control && row_of.has(here.control)) return row_of.get(here.control);
  }
  return first;
}

// Reads the page; again where something in sight was missed, and again where an element without words covers something.
function read_whole() {
  read();
  missed();
  if (holding.size) anew();
  covered();
  if (plates.size) { anew(); covered(); }
}

// Are scripts still coming for elements whose components are not there yet? Elements that no script defines are not waited for.
function comes_to_life() {
  const now = performance.now();
  if (now > ALIVE_MS || !document.querySelector(":not(:defined)")) return false;
  return performance.getEntriesByType("resource").some((each) => each.initiatorType === "script" && now - each.responseEnd < STEADY_MS);
}

function told(x, y) {
  return JSON.stringify({
    url: location.href, title: document.title, width: width, height: height, pixels: devicePixelRatio, ready: comes_to_life() ? "loading" : document.readyState,
    moving: running_in(document).length > 0, touch: navigator.maxTouchPoints, rows: rows, stops: tabbed(), overlays: overlays, painted: ranks_of(keys, rows, hits), spots: spots, hit: x === undefined ? -1 : hit(x, y),
    language: document.documentElement.lang || "",
  });
}
