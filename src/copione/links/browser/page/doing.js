// Works on controls whose choices the browser shows outside the page, without element references from the driver.
// A control is found again by its row and signature, since the page may have changed meanwhile.
const signed = (row) => JSON.stringify([rows[row][1], rows[row][3], rows[row][4], rows[row][5], rows[row][12]]);

function control(row, sign) {
  if (!sign || (rows[row] && signed(row) === sign)) return nodes[row] || null;
  const same = rows.map((_, i) => i).filter((i) => rows[i][12] && signed(i) === sign);
  return same.length === 1 ? nodes[same[0]] : null;
}

function changed(el, kinds) {
  const page = el.ownerDocument.defaultView;
  for (const kind of kinds) el.dispatchEvent(new page.Event(kind, { bubbles: true, composed: kind === "input" }));
}

const DEEDS = {
  facts(el, row) {
    el.focus();
    const said = (o) => o.label || o.text;
    return JSON.stringify({
      sign: signed(row), value: el.value || "", options: Array.from(el.options || [], said), chosen: Array.from(el.selectedOptions || [], said),
    });
  },
  choose(el, row, number) {
    const option = el.options && el.options[number];
    if (!option || option.disabled || el.disabled) return false;
    el.focus();
    if (!option.selected) { option.selected = true; changed(el, ["input", "change"]); }
    return true;
  },
  set(el, row, value) {
    el.focus();
    Object.getOwnPropertyDescriptor(el.ownerDocument.defaultView.HTMLInputElement.prototype, "value").set.call(el, value);
    changed(el, ["input", "change"]);
    return true;
  },
};

function done(deed, row, sign, words) {
  const el = control(row, sign);
  return el ? DEEDS[deed](el, row, words) : null;
}
