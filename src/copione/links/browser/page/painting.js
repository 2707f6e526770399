// Where things are painted and over what: boxes in CSS pixels of the window, and the painting order of CSS (CSS 2.2, appendix E).
const view = window.visualViewport, scale = view ? view.scale : 1;
const left0 = view ? view.offsetLeft : 0, top0 = view ? view.offsetTop : 0;
const width = view ? view.width * scale : innerWidth, height = view ? view.height * scale : innerHeight;
const still = scale === 1 && left0 === 0 && top0 === 0;
const origin = [0, 0], whole = [0, 0, width, height];

const cut = (a, b) => [Math.max(a[0], b[0]), Math.max(a[1], b[1]), Math.min(a[2], b[2]), Math.min(a[3], b[3])];
const empty = (box) => box[2] - box[0] < 0.5 || box[3] - box[1] < 0.5;
const area = (box) => Math.max(0, box[2] - box[0]) * Math.max(0, box[3] - box[1]);

function placed_at(r, at) {
  if (still && at === origin) return [r.left, r.top, r.right, r.bottom];
  return [(r.left + at[0] - left0) * scale, (r.top + at[1] - top0) * scale, (r.right + at[0] - left0) * scale, (r.bottom + at[1] - top0) * scale];
}

const rect_of = (el, at) => placed_at(el.getBoundingClientRect(), at);

// The largest fragment of wrapped inline text: the box round all fragments has other text in it.
function largest_of(el, box, clip, at) {
  const pieces = el.getClientRects();
  if (pieces.length < 2) return cut(box, clip);
  return Array.from(pieces, (r) => cut(placed_at(r, at), clip)).reduce((most, each) => (area(each) > area(most) ? each : most));
}

const LAYING = /transform|perspective|filter/, ALONE = /transform|perspective|filter|opacity|isolation|mask|clip-path|blend/, KEPT = /paint|layout|strict|content/;
const says = (words, what) => words !== "auto" && words !== "none" && what.test(words);
const moved = (style) => style.transform !== "none" || style.filter !== "none" || style.perspective !== "none" ||
  style.translate !== "none" || style.rotate !== "none" || style.scale !== "none";

// Is it the containing block of fixed descendants?
const lays_fixed = (style) => moved(style) || says(style.willChange, LAYING) || says(style.contain, KEPT);

// Does it form a stacking context even when it is not positioned?
const paints_alone = (style) => style.opacity !== "1" || moved(style) || style.isolation === "isolate" || style.mixBlendMode !== "normal" ||
  says(style.willChange, ALONE) || says(style.contain, KEPT) || style.clipPath !== "none";

// A painting order is a list of triples (z-index, positioned or not, place in the page), one per stacking context from the outermost in.
let painted = 0;
const TOP = 1e9; // the z-index given to the top layer

// Three painting orders: the element's own (null in the normal flow), its positioned children's, its other children's.
// `alone`: it may form a stacking context without being positioned.
function painting(where, style, position, alone) {
  const is_placed = position !== "static";
  if (!is_placed && !where.item && !alone) return [null, where.context, where.flow];
  const z = (is_placed || where.item) && style.zIndex !== "auto" ? parseInt(style.zIndex, 10) : NaN;
  const makes = !Number.isNaN(z) || position === "fixed" || position === "sticky" || (alone && paints_alone(style));
  if (!is_placed && !makes) return [null, where.context, where.flow];
  const key = [...where.context, z || 0, 1, painted++];
  return [key, makes ? key : where.context, key];
}

function painted_before(a, b) {
  for (let i = 0; i < a.length && i < b.length; i++) if (a[i] !== b[i]) return a[i] - b[i];
  return a.length - b.length;
}

// The place of each row in painting order; empty when that is the order of the rows. Where hit testing shows that an element lies higher
// than computed, it is moved up with its descendants.
function ranks_of(keys, rows, hits) {
  const order = keys.map((_, row) => row).sort((a, b) => painted_before(keys[a], keys[b]) || a - b);
  const place = new Array(keys.length), lifted = new Set();
  order.forEach((row, i) => { place[row] = i; });
  for (const [under, over] of hits) if (place[over] < place[under]) lifted.add(over);
  if (lifted.size) {
    const inside = rows.map(() => false);
    rows.forEach((each, row) => { inside[row] = lifted.has(row) || (each[0] >= 0 && inside[each[0]]); });
    order.sort((a, b) => inside[a] - inside[b] || place[a] - place[b]);
  }
  if (order.every((row, place) => row === place)) return [];
  const ranks = new Array(keys.length);
  order.forEach((row, place) => { ranks[row] = place; });
  return ranks;
}

const outer = (node) => node.assignedSlot || node.parentNode || node.host || (node.defaultView && node.defaultView.frameElement) || null;

function holds(el, node) {
  for (let here = node; here; here = outer(here)) if (here === el) return true;
  return false;
}

// What is at a point, through shadow roots and frames of this origin.
function point(x, y) {
  let root = document, found = null, fx = x / scale + left0, fy = y / scale + top0;
  for (let depth = 0; depth < 32; depth++) {
    let next = root.elementFromPoint(fx, fy);
    if (root.host && (!next || next === root.host)) // words in a slot are their host's: what holds the slot was hit
      next = root.elementsFromPoint(fx, fy).find((each) => each.getRootNode() === root);
    if (!next || next === found) return found;
    found = next;
    if (found.shadowRoot) root = found.shadowRoot;
    else if (found.tagName === "IFRAME") {
      const page = page_in(found);
      if (!page) return found;
      const r = found.getBoundingClientRect();
      fx -= r.left + found.clientLeft; fy -= r.top + found.clientTop;
      root = page;
    } else return found;
  }
  return found;
}

function page_in(frame) {
  try { return frame.contentDocument; } catch (error) { return null; }
}
