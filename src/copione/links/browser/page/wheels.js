// Wheels: choices that turn under a finger, the one in the middle chosen. No role marks them; how they are built does.
const LEAST_WHEEL = 88, MOST_WHEEL = 480, LEAST_ROW = 18, MOST_ROW = 80;
const turning = new Map(); // of each choice in a wheel: is it the one in the middle?

// What stands one below another in an element, each as high as the others; none where something in them is pressed by itself.
function stacked(el) {
  const found = [];
  let tall = 0;
  for (const each of inside_of(el)) {
    if (each.nodeType !== 1) continue;
    const given = each.tagName === "SLOT" ? each.assignedElements({ flatten: true }) : [each];
    for (const one of given) {
      const r = one.getBoundingClientRect(), words = squeeze(one.textContent);
      if (!words || r.height < 1) continue;
      if (words.length > 60 || r.height < LEAST_ROW || r.height > MOST_ROW || (tall && Math.abs(r.height - tall) > 1.5)) return [];
      if (found.length && Math.abs(r.top - found[found.length - 1].bottom) > 3) return [];
      if (one.querySelector("input,select,textarea,a[href],button,[role=button]")) return [];
      tall = tall || r.height;
      found.push({ el: one, words, top: r.top, bottom: r.bottom, middle: (r.top + r.bottom) / 2 });
    }
  }
  return found;
}

// What a wheel reads; null for anything else. It is clipped, shows three rows or more, and any of them can come to its middle.
function wheel_of(el, style) {
  const high = el.clientHeight;
  if (high < LEAST_WHEEL || high > MOST_WHEEL) return null;
  let strip = el, rows_in = [];
  for (let depth = 0; depth < 3; depth++) {
    rows_in = stacked(strip);
    if (rows_in.length > 2) break;
    const inner = inside_of(strip).filter((each) => each.nodeType === 1 && first_of(each));
    if (inner.length !== 1) return null;
    strip = inner[0];
  }
  if (rows_in.length < 3) return null;
  const r = el.getBoundingClientRect(), tall = rows_in[0].bottom - rows_in[0].top, middle = (r.top + r.bottom) / 2;
  if (high < 2.4 * tall) return null;
  const moves = strip !== el && moved(getComputedStyle(strip)), snaps = style.scrollSnapType.startsWith("y");
  if (!moves && !snaps) return null;
  const nearest = rows_in.reduce((a, b) => (Math.abs(b.middle - middle) < Math.abs(a.middle - middle) ? b : a));
  const before = snaps ? rows_in[0].top + el.scrollTop - r.top : Infinity; // the first row can come to the middle only with room before it
  if (before < (high - tall) / 2 - tall / 2 || Math.abs(nearest.middle - middle) > tall * 0.6) return null;
  for (const each of rows_in) turning.set(each.el, each === nearest);
  return nearest.words;
}
