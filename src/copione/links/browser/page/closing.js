// What lies over the page so that a touch beside it reaches nothing else: a modal dialog, or what stands before a veil.
const VEIL_SHARE = 0.5, VEIL_ACROSS = 6, VEIL_DOWN = 12;
const DIALOGS = "dialog,[role=dialog],[role=alertdialog],[aria-modal=true]", SHOWN = "img,canvas,video,svg,input,textarea,select,iframe,object,slot";

const empty_inside = (root) => !root.querySelector(SHOWN) &&
  Array.from(root.childNodes).every((each) => PASSED.has((each.tagName || "").toUpperCase()) || !squeeze(each.textContent));

// Is it what a dialog is shown before: over most of the window, with nothing of its own, and parts of the page under it?
function is_veil(el) {
  if (area(cut(rect_of(el, origin), whole)) < VEIL_SHARE * area(whole) || getComputedStyle(el).position === "static") return false;
  if (el.matches(":modal")) return true;
  if (!(empty_inside(el) && (!el.shadowRoot || empty_inside(el.shadowRoot))) && !el.matches(DIALOGS)) return false;
  return rows.some((row, i) => nodes[i] && (row[2] || row[3]) && !holds(nodes[i], el) && point((row[6] + row[8]) / 2, (row[7] + row[9]) / 2) === el);
}

// What lies over the page: a spot beside it, whether any of it moves, and in words how many such things there are. Null without one.
function veil() {
  for (let j = 0; j < VEIL_DOWN; j++) for (let i = 0; i < VEIL_ACROSS; i++) {
    const x = (i + 0.5) * width / VEIL_ACROSS, y = (j + 0.5) * height / VEIL_DOWN, el = point(x, y);
    if (!el || !is_veil(el)) continue;
    const inside = el.matches(":modal") ? rect_of(el, origin) : null; // its backdrop is hit as the dialog itself
    if (inside && inside[0] <= x && x <= inside[2] && inside[1] <= y && y <= inside[3]) continue;
    const moves = (el.parentElement || el).getAnimations({ subtree: true }).some((each) => each.playState === "running");
    const at = ([,,,,,, left, top, right, bottom]) => left <= x && x <= right && top <= y && y <= bottom;
    const veils = rows.filter((row, i) => nodes[i] && (row[1] === "dialog" || (at(row) && is_veil(nodes[i])))).length;
    return { x: short(x), y: short(y), moves, words: [el.tagName, el.id, veils].join(" ") };
  }
  return null;
}
