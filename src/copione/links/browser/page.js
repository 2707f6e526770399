// Reads the page that is shown into rows of elements, in one call. arguments: what is wanted ("screen", "node"), a row.
// A screen comes as one JSON string, which engines hand over quicker than nested arrays. Nothing is left behind in the page.
return (function (wanted, asked) {
  "use strict";
  const CLICKABLE = 1, CHECKABLE = 2, CHECKED = 4, ENABLED = 8, FOCUSED = 16, SCROLLABLE = 32, PASSWORD = 128, SELECTED = 256, MESSAGE = 1024;
  const MOST = 12000, LONGEST = 5000;
  const TAGS = {
    BUTTON: "button", TEXTAREA: "textbox", UL: "list", OL: "list", LI: "listitem", IMG: "img", CANVAS: "canvas", VIDEO: "img",
    SVG: "img", DIALOG: "dialog", PROGRESS: "progressbar", METER: "progressbar", SUMMARY: "button", TABLE: "list", TR: "listitem",
    H1: "heading", H2: "heading", H3: "heading", H4: "heading", H5: "heading", H6: "heading", IFRAME: "document",
  };
  const INPUTS = {
    button: "button", submit: "button", reset: "button", image: "button", checkbox: "checkbox", radio: "radio", range: "slider",
    date: "combobox", file: "textbox", hidden: "",
  };
  const ROLES = {
    button: "button", link: "link", checkbox: "checkbox", switch: "switch", radio: "radio", radiogroup: "radiogroup", slider: "slider",
    spinbutton: "spinbutton", textbox: "textbox", searchbox: "textbox", combobox: "combobox", listbox: "list", list: "list",
    menu: "list", tree: "list", grid: "list", table: "list", treegrid: "list", listitem: "listitem", row: "listitem",
    treeitem: "listitem", option: "option", menuitem: "option", menuitemcheckbox: "option", menuitemradio: "option", tab: "tab",
    tablist: "tablist", heading: "heading", img: "img", image: "img", dialog: "dialog", alertdialog: "dialog",
    progressbar: "progressbar", meter: "progressbar", none: "", presentation: "", group: "", generic: "",
  };
  const ACTS = new Set(["button", "link", "checkbox", "switch", "radio", "slider", "spinbutton", "textbox", "combobox", "option", "tab"]);
  const CONTENT = new Set(["button", "link", "tab", "option", "heading", "checkbox", "switch", "radio"]);
  const PASSING = new Set(["alert", "status", "log", "tooltip", "polite", "assertive"]); // what says something that goes again
  const TOGGLES = new Set(["checkbox", "switch", "radio"]);
  const TYPED = new Set(["text", "search", "email", "tel", "url", "number", "button", "submit", "reset"]); // whose value is seen
  const SIMPLE = new Set(["B", "I", "EM", "STRONG", "SMALL", "SUB", "SUP", "BR", "MARK", "CODE", "WBR", "U", "S", "ABBR", "TIME",
    "BDI", "BDO", "KBD", "Q", "CITE", "DATA", "VAR", "DEL", "INS"]);
  const PASSED = new Set(["SCRIPT", "STYLE", "NOSCRIPT", "TEMPLATE", "HEAD", "META", "LINK", "TITLE", "OPTION", "OPTGROUP", "DATALIST",
    "BASE", "SOURCE", "TRACK", "PARAM"]);
  const view = window.visualViewport, scale = view ? view.scale : 1;
  const left0 = view ? view.offsetLeft : 0, top0 = view ? view.offsetTop : 0;
  const width = view ? view.width * scale : innerWidth, height = view ? view.height * scale : innerHeight;
  const origin = [0, 0];
  const rows = [], nodes = [], row_of = new Map(), styles = new Map(), above = [], placed = [], afloat = [];
  const overlays = [], floats = new Map(); // what stands over the flow of the page: its box, its rows, whether it stays when that is scrolled
  const stops = []; // of the tabulator: a row, its element, the layer it stands in
  let layer = 0, layers = 0;
  let active = document.activeElement;
  while (active && active.shadowRoot && active.shadowRoot.activeElement) active = active.shadowRoot.activeElement;

  // As the platform has them: frameworks put their own in the way.
  const got = (of, name) => Object.getOwnPropertyDescriptor(of.prototype, name).get;
  const first_in = ((get) => (el) => get.call(el))(got(Element, "firstElementChild"));
  const beside = ((get) => (el) => get.call(el))(got(Element, "nextElementSibling"));
  function children_of(el) {
    const found = [];
    for (let each = first_in(el); each; each = beside(each)) found.push(each);
    return found;
  }
  const nodes_of = ((get) => (el) => get.call(el))(got(Node, "childNodes"));
  const first_of = ((get) => (el) => get.call(el))(got(Node, "firstChild"));
  const next_of = ((get) => (el) => get.call(el))(got(Node, "nextSibling"));
  const squeeze = (words) => (words || "").replace(/\s+/g, " ").trim().slice(0, LONGEST);

  const edited = (el) => el.hasAttributes() && el.hasAttribute("contenteditable") && el.getAttribute("contenteditable") !== "false";

  function role_of(el, tag) {
    const said = el.hasAttributes() ? el.getAttribute("role") : "";
    if (said) for (const each of said.toLowerCase().split(/\s+/)) if (each in ROLES) return ROLES[each];
    if (tag === "INPUT") {
      return el.type in INPUTS ? INPUTS[el.type] : "textbox";
    }
    if (tag === "A" || tag === "AREA") return el.hasAttribute("href") ? "link" : "";
    if (tag === "SELECT") return el.multiple || el.size > 1 ? "list" : "combobox";
    if (tag === "FIELDSET") return el.querySelector("input[type=radio],[role=radio]") ? "radiogroup" : "";
    if (edited(el)) return "textbox";
    return TAGS[tag] || "";
  }

  // The text of an element as its name is made of it: without what is hidden from names, without `but`.
  function said_in(el, but, depth) {
    if (depth > 12) return "";
    let words = "";
    const inside = el.shadowRoot ? el.shadowRoot.childNodes : el.tagName === "SLOT" && el.assignedNodes().length ? el.assignedNodes() : nodes_of(el);
    for (const node of inside) {
      if (node === but) continue;
      if (node.nodeType === 3) words += node.data;
      else if (node.nodeType === 1 && !PASSED.has(node.tagName.toUpperCase()) && node.getAttribute("aria-hidden") !== "true" && !node.hidden) {
        const label = node.getAttribute("aria-label") || (node.tagName === "IMG" ? node.alt : "");
        const block = node.tagName !== "SPAN" && !SIMPLE.has(node.tagName) && node.tagName !== "A";
        words += (block ? " " : "") + (label || (node.tagName === "INPUT" ? (TYPED.has(node.type) ? node.value : "") : said_in(node, but, depth + 1))) + (block ? " " : "");
      }
      if (words.length > LONGEST) break;
    }
    return words;
  }

  function label_of(el, tag, role) {
    if (!el.hasAttributes() && !el.labels && tag !== "FIELDSET" && tag !== "TABLE") return "";
    const by = el.getAttribute("aria-labelledby");
    if (by) {
      const root = el.getRootNode();
      const words = by.split(/\s+/).map((id) => root.getElementById && root.getElementById(id)).filter(Boolean)
        .map((each) => each.getAttribute("aria-label") || (each.value && each.tagName !== "LI" ? each.value : said_in(each, null, 0)));
      if (squeeze(words.join(" "))) return squeeze(words.join(" "));
    }
    const own = squeeze(el.getAttribute("aria-label"));
    if (own) return own;
    if (el.labels && el.labels.length) {
      const words = squeeze(Array.from(el.labels, (each) => said_in(each, el, 0)).join(" "));
      if (words) return words;
    }
    if (tag === "INPUT" && (el.type === "submit" || el.type === "button" || el.type === "reset"))
      return squeeze(el.value) || (el.type === "submit" ? "Submit" : el.type === "reset" ? "Reset" : "");
    if (tag === "IMG" || tag === "AREA" || (tag === "INPUT" && el.type === "image")) { if (el.alt) return squeeze(el.alt); }
    if (tag === "FIELDSET") { const legend = el.querySelector("legend"); if (legend) return squeeze(said_in(legend, null, 0)); }
    if (tag === "TABLE" && el.caption) return squeeze(el.caption.textContent);
    if (tag === "SVG") { const title = el.querySelector("title"); if (title) return squeeze(title.textContent); }
    return "";
  }

  // The words of an element itself: those directly in it, with what is only marked in them.
  function text_of(el) {
    if (el.shadowRoot || !first_of(el)) return ""; // of a shadow root the words stand where its slots are
    let words = "", own = false;
    const take = (node) => {
      if (node.nodeType === 3) { words += node.data; own = own || /\S/.test(node.data); }
      else if (node.nodeType !== 1) return;
      else if (node.tagName === "SLOT") {
        const given = node.assignedNodes({ flatten: true });
        for (const each of given.length ? given : nodes_of(node)) if (each.tagName !== "SLOT") take(each);
      } else if (plain(node)) words += node.tagName === "BR" ? " " : node.textContent;
    };
    for (let node = first_of(el); node; node = next_of(node)) take(node);
    return own ? squeeze(words) : "";
  }
  const plain = (el) => (SIMPLE.has(el.tagName) || (el.tagName === "SPAN" && !el.attributes.length)) && !first_in(el);

  function value_of(el, tag, role) {
    if (tag === "SELECT") return squeeze(Array.from(el.selectedOptions, (each) => each.label || each.text).join(", "));
    if (tag === "INPUT" || tag === "TEXTAREA") {
      if (el.type === "checkbox" || el.type === "radio" || role === "button") return "";
      if (el.type === "password") return "•".repeat(el.value.length);
      if (el.type === "file") return Array.from(el.files || [], (each) => each.name).join(", ");
      if (el.type === "range") return squeeze(el.getAttribute("aria-valuetext")) || el.value;
      return el.value.slice(0, LONGEST);
    }
    if (tag === "PROGRESS" || tag === "METER") return squeeze(el.getAttribute("aria-valuetext")) || String(el.value);
    if (role === "slider" || role === "spinbutton" || role === "progressbar")
      return squeeze(el.getAttribute("aria-valuetext") || el.getAttribute("aria-valuenow") || "");
    if (role === "textbox") return squeeze(el.innerText);
    if (role === "combobox") return squeeze(said_in(el, null, 0));
    return "";
  }

  function limits_of(el) {
    const given = el.tagName === "INPUT" ? [el.min === "" ? 0 : el.min, el.max === "" ? 100 : el.max] : [el.getAttribute("aria-valuemin"), el.getAttribute("aria-valuemax")];
    if (given[0] === null || given[1] === null) return null;
    const least = Number(given[0]), most = Number(given[1]);
    return Number.isFinite(least) && Number.isFinite(most) && most > least ? [least, most] : null;
  }

  const disabled_parts = !!document.querySelector("fieldset:disabled");
  const truth = (el, name) => el.getAttribute(name) === "true";

  function flags_of(el, tag, role, style, pointed) {
    let flags = 0;
    if (!(el.disabled || truth(el, "aria-disabled") || (disabled_parts && el.closest("fieldset:disabled")))) flags |= ENABLED;
    if (TOGGLES.has(role)) flags |= CHECKABLE;
    if (!el.hasAttributes()) return flags | (pointed && style.pointerEvents !== "none" ? CLICKABLE : 0) | (el === active ? FOCUSED : 0) | flow_of(el, style);
    if (el.checked || truth(el, "aria-checked") || truth(el, "aria-pressed")) flags |= CHECKED;
    if (truth(el, "aria-selected") || (el.hasAttribute("aria-current") && !el.matches("[aria-current=false]"))) flags |= SELECTED;
    if (el === active) flags |= FOCUSED;
    if (tag === "INPUT" && el.type === "password") flags |= PASSWORD;
    if (PASSING.has(el.getAttribute("role")) || PASSING.has(el.getAttribute("aria-live"))) flags |= MESSAGE;
    const tabs = el.getAttribute("tabindex");
    const acts = ACTS.has(role) || el.onclick || el.hasAttribute("onclick") || pointed || (tabs !== null && Number(tabs) >= 0 && role !== "dialog");
    if (acts && style.pointerEvents !== "none") flags |= CLICKABLE;
    return flags | flow_of(el, style);
  }

  function flow_of(el, style) {
    const flows = style.overflowY;
    return (flows === "auto" || flows === "scroll") && el.scrollHeight > el.clientHeight + 1 && el.clientHeight > 0 ? SCROLLABLE : 0;
  }

  function kind_of(el, tag) {
    if (tag === "SELECT" && !el.multiple && el.size < 2) return "select";
    if (tag === "INPUT" && (el.type === "date" || el.type === "file")) return el.type;
    return "";
  }

  const short = (side) => Math.round(side * 10) / 10;

  function add(el, parent, role, text, label, hint, id, box, flags, kind) {
    const above = el && flags & SCROLLABLE ? Math.max(0, el.scrollTop) * scale : 0;
    rows.push([parent, role, text, label, hint, id, short(box[0]), short(box[1]), short(box[2]), short(box[3]), flags, -1, kind, above, el && role === "slider" ? limits_of(stands_for(el) || el) : null]);
    nodes.push(el);
    if (el) row_of.set(el, rows.length - 1);
    return rows.length - 1;
  }

  const cut = (a, b) => [Math.max(a[0], b[0]), Math.max(a[1], b[1]), Math.min(a[2], b[2]), Math.min(a[3], b[3])];
  const empty = (box) => box[2] - box[0] < 0.5 || box[3] - box[1] < 0.5;

  const still = scale === 1 && left0 === 0 && top0 === 0;

  const rect_of = (el, at) => placed_at(el.getBoundingClientRect(), at);

  function placed_at(r, at) {
    if (still && at === origin) return [r.left, r.top, r.right, r.bottom];
    return [(r.left + at[0] - left0) * scale, (r.top + at[1] - top0) * scale, (r.right + at[0] - left0) * scale, (r.bottom + at[1] - top0) * scale];
  }

  // Of words that go on in the next line the largest piece: round all of them stand others' words, too.
  function largest_of(el, box, clip, at) {
    const pieces = el.getClientRects();
    if (pieces.length < 2) return cut(box, clip);
    const area = (b) => Math.max(0, b[2] - b[0]) * Math.max(0, b[3] - b[1]);
    return Array.from(pieces, (r) => cut(placed_at(r, at), clip)).reduce((most, each) => (area(each) > area(most) ? each : most));
  }

  function walk_all(list, parent, clip, at, pointer) {
    for (const node of list) if (node.nodeType === 1) walk(node, parent, clip, at, pointer);
  }

  function inside_of(el) {
    if (el.shadowRoot) return Array.from(el.shadowRoot.children);
    if (el.tagName === "SLOT") { const given = el.assignedNodes({ flatten: true }); if (given.length) return given; }
    return children_of(el);
  }

  function by_height(list) { // what is drawn later comes later
    if (list.length < 2) return list;
    let some = false;
    const heights = list.map((el) => {
      if (el.nodeType !== 1) return 0;
      const style = getComputedStyle(el);
      styles.set(el, style);
      const z = style.position !== "static" ? parseInt(style.zIndex, 10) || 0 : 0;
      some = some || z !== 0;
      return z;
    });
    if (!some) return list;
    return list.map((el, i) => [el, heights[i], i]).sort((a, b) => a[1] - b[1] || a[2] - b[2]).map((each) => each[0]);
  }

  // A control of the platform that is not drawn, and that this element is drawn for.
  function stands_for(el) {
    if (!first_of(el)) return null;
    let some = false;
    for (let node = first_of(el); node && !some; node = next_of(node)) some = node.tagName === "INPUT";
    if (!some) return null;
    const inputs = children_of(el).filter((each) => each.tagName === "INPUT" && ["checkbox", "radio", "range"].includes(each.type));
    return inputs.length && !inputs.some((each) => each.getClientRects().length) ? inputs[0] : null;
  }

  // A slider that tells of its knob alone is as long as what the knob goes along.
  function track_of(el, box, at) {
    if (el.tagName === "INPUT" || box[2] - box[0] > 64) return box;
    for (let here = outer(el), depth = 0; here && depth < 4; here = outer(here), depth++) {
      if (here.nodeType !== 1) continue;
      const r = rect_of(here, at);
      if (r[2] - r[0] > 3 * (box[2] - box[0]) && r[3] - r[1] < 96) return r;
    }
    return box;
  }

  // What is pressed and holds several lines of words is called by the first, as a row is; not by all of them.
  function is_card(el) {
    let lines = 0;
    const inside = el.querySelectorAll("h1,h2,h3,h4,p,div,li");
    const slotted = el.getRootNode().host ? el.getRootNode().host.querySelectorAll("h1,h2,h3,h4,p,div") : [];
    for (const each of [...Array.from(inside), ...Array.from(slotted)].slice(0, 12)) if (text_of(each)) lines++;
    return lines > 1;
  }

  const labels_toggle = (el) => el.control && (TOGGLES.has(role_of(el.control, el.control.tagName)));

  function walk(el, parent, clip, at, pointer) {
    const before = layer, first = rows.length;
    walk_into(el, parent, clip, at, pointer);
    layer = before;
    const seen = floats.get(el);
    if (seen) overlays.push([short(seen[0]), short(seen[1]), short(seen[2]), short(seen[3]), first, rows.length, seen[4]]);
  }

  function walk_into(el, parent, clip, at, pointer) {
    const tag = el.tagName.toUpperCase();
    const told_of = el.hasAttributes();
    if (PASSED.has(tag) || rows.length >= MOST || (told_of && el.inert)) return;
    const style = styles.get(el) || getComputedStyle(el), display = style.display;
    if (display === "none") return;
    const position = style.position;
    if (position === "fixed" || (tag === "DIALOG" && el.open && el.matches(":modal"))) {
      if (!placed.includes(el)) { placed.push(el); above.push([el, at, tag === "DIALOG" && el.matches(":modal") ? 1e9 : parseInt(style.zIndex, 10) || 0, above.length]); return; }
      clip = [0, 0, width, height];
    }
    const contents = display === "contents";
    let box = contents ? clip : rect_of(el, at);
    let hidden = contents ? null : stands_for(el);
    if (hidden && rows[parent][1] === role_of(hidden, "INPUT")) hidden = null; // what holds it says so itself
    const shown = !contents && style.visibility === "visible";
    if (!contents && !empty(box) && empty(cut(box, clip)) && el.scrollHeight <= el.clientHeight + 1 &&
        el.scrollWidth <= el.clientWidth + 1 && !el.shadowRoot && tag !== "LABEL" && tag !== "SLOT") {
      const toggle = tag === "INPUT" && (el.type === "checkbox" || el.type === "radio");
      if (!toggle) return;
    }
    if (told_of && !contents && el.getAttribute("aria-hidden") === "true") {
      const mine = cut(box, clip);
      const top = empty(mine) ? null : point((mine[0] + mine[2]) / 2, (mine[1] + mine[3]) / 2);
      if (!top || holds(el, top)) return; // it is only an ornament; what a dialog stands over is kept
    }
    if (position !== "static" && shown) afloat.push(el, cut(box, clip));
    const stays = position === "fixed" || position === "sticky" || tag === "DIALOG";
    if (stays || (position === "absolute" && parseInt(style.zIndex, 10) > 0)) {
      layer = ++layers;
      const seen = cut(box, clip);
      if (shown && !empty(seen) && style.pointerEvents !== "none") floats.set(el, [...seen, stays]);
    }
    let here = parent, pointing = style.cursor === "pointer";
    if (shown) {
      const role = hidden ? role_of(hidden, "INPUT") : role_of(el, tag), kind = kind_of(el, tag), told = hidden || el;
      if (role === "slider" && !hidden) box = track_of(el, box, at);
      if (TOGGLES.has(role) && el.labels) for (const each of el.labels) {
        const r = rect_of(each, at);
        if (!empty(r)) box = empty(box) ? r : [Math.min(box[0], r[0]), Math.min(box[1], r[1]), Math.max(box[2], r[2]), Math.max(box[3], r[3])];
      }
      const seen = display === "inline" && !hidden ? largest_of(el, box, clip, at) : cut(box, clip);
      if (!empty(seen)) {
        const flags = flags_of(told, hidden ? "INPUT" : tag, role, style, pointing && !pointer);
        const skip = tag === "LABEL" && !hidden && labels_toggle(el);
        const text = skip ? "" : role === "textbox" || role === "combobox" || role === "slider" || role === "spinbutton" || role === "progressbar"
          ? value_of(told, hidden ? "INPUT" : tag, role) : hidden ? "" : text_of(el);
        let label = label_of(told, hidden ? "INPUT" : tag, role);
        if (!label && !text && CONTENT.has(role) && !is_card(el)) label = squeeze(said_in(el, null, 0));
        if (role === "slider" && text && label.endsWith(" " + text)) label = label.slice(0, -text.length - 1); // a pin on its knob
        const title = label || text || !told_of ? "" : squeeze(el.getAttribute("title"));
        const id = told_of ? el.getAttribute("data-testid") || el.id || "" : "";
        const hint = told_of ? title || squeeze(el.getAttribute("placeholder") || el.getAttribute("aria-placeholder")) : "";
        const stands = position === "fixed" || position === "sticky" ||
          (position === "absolute" && parseInt(style.zIndex, 10) > 0 && (box[2] - box[0]) * (box[3] - box[1]) > width * height / 4);
        if (!skip && (role || text || label || stands || flags & (CLICKABLE | SCROLLABLE)))
          here = add(el, parent, role || (text && !(flags & CLICKABLE) ? "text" : "generic"), text, label || title, hint, id, seen, flags, kind);
        if (here !== parent && flags & ENABLED && role !== "radio" && (ACTS.has(role) || told.hasAttribute("tabindex")) && told.tabIndex >= 0)
          stops.push([here, told, layer]);
      }
    }
    const reads = style.overflowY !== "visible" && !contents && el !== document.body && el !== document.documentElement;
    const inner = reads ? cut(clip, rect_of(el, at)) : clip;
    if (tag === "IFRAME" || tag === "FRAME") return framed(el, here, inner, at);
    if (tag === "SVG" || tag === "SELECT" || tag === "TEXTAREA" || tag === "CANVAS" || tag === "VIDEO") return;
    if (nodes[here] === el && edited(el)) return;
    const acting = here !== parent && ACTS.has(rows[here][1]); // what is drawn inside of a control is no control of its own
    walk_all(by_height(inside_of(el)), here, inner, at, pointing || acting);
  }

  function framed(el, here, clip, at) {
    let page = null;
    try { page = el.contentDocument; } catch (error) { page = null; }
    if (!page || !page.body) return;
    const r = el.getBoundingClientRect();
    const from = [at[0] + r.left + el.clientLeft, at[1] + r.top + el.clientTop];
    const root = page.scrollingElement || page.documentElement;
    layer = ++layers; // its order is its own
    if (rows[here] && nodes[here] === el && root.scrollHeight > root.clientHeight + 1) {
      rows[here][10] |= SCROLLABLE;
      rows[here][13] = root.scrollTop * scale;
    }
    walk(page.body, here, cut(clip, rect_of(el, at)), from, false);
  }

  // what is at a point, through shadow roots and frames of this origin
  function point(x, y) {
    let root = document, found = null, fx = x / scale + left0, fy = y / scale + top0;
    for (let depth = 0; depth < 16; depth++) {
      const next = root.elementFromPoint(fx, fy);
      if (!next || next === found) return found;
      found = next;
      if (found.shadowRoot) root = found.shadowRoot;
      else if (found.tagName === "IFRAME") {
        let page = null;
        try { page = found.contentDocument; } catch (error) { page = null; }
        if (!page) return found;
        const r = found.getBoundingClientRect();
        fx -= r.left + found.clientLeft; fy -= r.top + found.clientTop;
        root = page;
      } else return found;
    }
    return found;
  }

  const outer = (node) => node.assignedSlot || node.parentNode || node.host || (node.defaultView && node.defaultView.frameElement) || null;

  function holds(el, node) {
    for (let here = node; here; here = outer(here)) if (here === el) return true;
    return false;
  }

  // Is there anything at a point that does not stand in the flow of the page, and is not what this element stands in?
  function under_some(el, x, y) {
    for (let i = 0; i < afloat.length; i += 2) {
      const box = afloat[i + 1];
      if (box[0] <= x && x <= box[2] && box[1] <= y && y <= box[3] && afloat[i] !== el && !afloat[i].contains(el)) return true;
    }
    return false;
  }

  function cover(row) {
    const el = nodes[row], r = rows[row];
    if (!el || r[10] === undefined) return -1;
    const x = (r[6] + r[8]) / 2, y = (r[7] + r[9]) / 2;
    if (!(r[10] & (CLICKABLE | CHECKABLE | SCROLLABLE)) && !under_some(el, x, y)) return -1;
    const top = point(x, y);
    if (!top || top === el || el.contains(top)) return -1;
    let over = -1;
    for (let here = top; here; here = outer(here)) {
      if (here === el || (el.labels && Array.prototype.includes.call(el.labels, here))) return -1;
      if (over < 0 && row_of.has(here)) over = row_of.get(here);
    }
    if (over < 0) return -1;
    for (let up = row; up >= 0; up = rows[up][0]) if (up === over) return -1;
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

  const root = document.scrollingElement || document.documentElement;
  const whole = [0, 0, width, height];
  add(null, -1, "generic", "", "", "", "", whole, ENABLED, "");
  add(root, 0, "document", "", squeeze(document.title), "", "", whole, ENABLED | (root.scrollHeight > root.clientHeight + 1 ? SCROLLABLE : 0), "");
  if (document.body) {
    walk(document.body, 1, whole, origin, false);
    for (let i = 0; i < above.length; i++) { // what stands over the page may hold what stands over it too
      above.sort((a, b) => (above.indexOf(a) < i ? -1 : a[2] - b[2]) || a[3] - b[3]);
      const [el, at] = above[i];
      walk(el, 0, whole, at, false);
    }
  }
  if (wanted === "node") return nodes[asked] || null;
  for (let row = 2; row < rows.length; row++) rows[row][11] = cover(row);
  const runs = document.getAnimations ? document.getAnimations().some((each) => {
    const timing = each.effect && each.effect.getComputedTiming();
    return each.playState === "running" && timing && timing.endTime < 3000;
  }) : false;
  return JSON.stringify({
    url: location.href, title: document.title, width: width, height: height, pixels: devicePixelRatio, ready: document.readyState,
    moving: runs, touch: navigator.maxTouchPoints, rows: rows, stops: tabbed(), overlays: overlays,
    language: document.documentElement.lang || "",
  });
})(arguments[0], arguments[1]);
