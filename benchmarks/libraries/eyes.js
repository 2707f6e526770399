// Where a person sees something: by the words painted there, or by a selector; through shadow roots and frames.
// Returns [its box as left, top, right, bottom, or null; does it stand below what shows?].
const [wanted, nth] = arguments;
const selects = /^[.#\[]/.test(wanted), found = [];
let below = false;
const top = (root, x, y) => {
  let hit = null;
  for (let here = root.elementFromPoint(x, y); here && here !== hit; here = here.shadowRoot ? here.shadowRoot.elementFromPoint(x, y) : null) hit = here;
  return hit;
};
const within = (inner, outer) => {
  for (let here = inner; here; here = here.assignedSlot || here.parentNode || here.host) if (here === outer) return true;
  return false;
};
const cut_off = (inner, x, y) => { // is the place outside of something that hides what goes beyond it?
  for (let here = inner; here; here = here.assignedSlot || here.parentNode || here.host) {
    if (here.nodeType !== 1 || getComputedStyle(here).overflow === "visible") continue;
    const r = here.getBoundingClientRect();
    if (here !== document.body && here !== document.documentElement && (x < r.left || x > r.right || y < r.top || y > r.bottom)) return true;
  }
  return false;
};
const round = (node) => { const range = document.createRange(); range.selectNodeContents(node); return range.getBoundingClientRect(); };
const box_of = (node) => {
  if (node.nodeType === 3) return !selects && node.data.replace(/\s+/g, " ").trim() === wanted ? round(node) : null;
  const says = selects ? node.matches(wanted) : node.placeholder === wanted || (/^(submit|button)$/.test(node.type) && node.value === wanted);
  return says ? node.getBoundingClientRect() : null;
};
const look = (root, dx, dy) => {
  const walk = document.createTreeWalker(root, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT);
  for (let node = walk.nextNode(); node; node = walk.nextNode()) {
    const box = box_of(node);
    if (box && box.width > 0 && box.height > 0) {
      const element = node.nodeType === 1 ? node : node.parentElement || root.host;
      const x = (box.left + box.right) / 2, y = (box.top + box.bottom) / 2, hit = top(element.ownerDocument, x, y);
      if (!selects && y + dy > innerHeight - 20) below = true;
      if (x + dx >= 0 && y + dy >= 0 && x + dx < innerWidth && y + dy < innerHeight && hit && (within(hit, element) || (within(element, hit) && !cut_off(element, x, y))))
        found.push([box.left + dx, box.top + dy, box.right + dx, box.bottom + dy]);
    }
    if (node.nodeType === 1 && node.shadowRoot) look(node.shadowRoot, dx, dy);
    if (node.tagName === "IFRAME") {
      const r = node.getBoundingClientRect();
      if (node.contentDocument) look(node.contentDocument, dx + r.left + node.clientLeft, dy + r.top + node.clientTop);
    }
  }
};
look(document, 0, 0);
return [found[nth] || null, below];
