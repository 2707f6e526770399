// What an element is and is called: roles by ARIA, names as they are computed, what it holds. One of the files that make the script.
const CLICKABLE = 1, CHECKABLE = 2, CHECKED = 4, ENABLED = 8, FOCUSED = 16, SCROLLABLE = 32, PASSWORD = 128, SELECTED = 256, MESSAGE = 1024, EDITABLE = 2048, ACROSS = 4096, TURNS = 8192, CUT = 16384;
const LONGEST = 5000;
const TAGS = {
  BUTTON: "button", TEXTAREA: "textbox", UL: "list", OL: "list", LI: "listitem", IMG: "img", CANVAS: "canvas", VIDEO: "img",
  SVG: "img", DIALOG: "dialog", PROGRESS: "progressbar", METER: "progressbar", SUMMARY: "button", TABLE: "list", TR: "listitem",
  H1: "heading", H2: "heading", H3: "heading", H4: "heading", H5: "heading", H6: "heading", IFRAME: "document",
};
const TAG_ENDS = [[/-(BUTTON|BTN|FAB)$/i, "button"], [/-LIST-ITEM$/i, "listitem"]]; // a component without a root of its own, by what its author calls it
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
const HOLDS = new Set(["textbox", "combobox", "slider", "spinbutton", "progressbar"]); // what they say is what they hold
const TYPED = new Set(["text", "search", "email", "tel", "url", "number", "button", "submit", "reset"]); // whose value is seen
const SIMPLE = new Set(["B", "I", "EM", "STRONG", "SMALL", "SUB", "SUP", "BR", "MARK", "CODE", "WBR", "U", "S", "ABBR", "TIME",
  "BDI", "BDO", "KBD", "Q", "CITE", "DATA", "VAR", "DEL", "INS"]);
const PASSED = new Set(["SCRIPT", "STYLE", "NOSCRIPT", "TEMPLATE", "HEAD", "META", "LINK", "TITLE", "OPTION", "OPTGROUP", "DATALIST",
  "BASE", "SOURCE", "TRACK", "PARAM"]);

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
  if (said) for (const each of said.toLowerCase().split(/\s+/)) if (Object.hasOwn(ROLES, each)) return ROLES[each];
  if (tag === "INPUT") {
    return el.type in INPUTS ? INPUTS[el.type] : "textbox";
  }
  if (tag === "A" || tag === "AREA") return el.hasAttribute("href") ? "link" : "";
  if (tag === "SELECT") return el.multiple || el.size > 1 ? "list" : "combobox";
  if (tag === "FIELDSET") return el.querySelector("input[type=radio],[role=radio]") ? "radiogroup" : "";
  if (edited(el)) return "textbox";
  if (TAGS[tag] || !tag.includes("-") || el.shadowRoot) return TAGS[tag] || "";
  const ends = TAG_ENDS.find(([end]) => end.test(tag));
  return ends ? ends[1] : "";
}

const BUT_LISTS = "[role=listbox],[role=menu],[role=tree],[role=grid],[role=dialog]", BUT_ALL = BUT_LISTS + ",button"; // of what a choice says

// The text of an element as its name is made of it: without what is hidden from names, without `but`, an element or a selector.
function said_in(el, but, depth) {
  if (depth > 12) return "";
  let words = "";
  const given = el.shadowRoot || el.tagName === "SLOT" ? Array.from(drawn_in(el)) : null;
  for (let node = given ? given[0] : first_of(el), i = 1; node; node = given ? given[i++] : next_of(node)) {
    if (node === but || (typeof but === "string" && node.nodeType === 1 && node.matches(but))) continue;
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

// Libraries that draw put canvases of their own into the element that the page has named.
function id_around(canvas) {
  const named = canvas.parentElement && canvas.parentElement.closest("[id]");
  const own = named && canvas.getBoundingClientRect(), round = named && named.getBoundingClientRect();
  return own && own.width * own.height >= 0.8 * round.width * round.height ? named.id : "";
}

// What has no words among others of its kind, such as a star of a rating, is called by its place.
function numbered(el) {
  const group = el.closest("[role=radiogroup],fieldset");
  if (!el.hasAttribute("aria-posinset") && !group) return "";
  return el.getAttribute("aria-posinset") || String(Array.from(group.querySelectorAll("[role=radio],input[type=radio]")).indexOf(el) + 1 || "");
}

// The nodes rendered inside an element: of its shadow root, those assigned to its slot, or its own.
const drawn_in = (el) => el.shadowRoot ? el.shadowRoot.childNodes
  : el.tagName === "SLOT" && el.assignedNodes().length ? el.assignedNodes({ flatten: true }) : nodes_of(el);

// The element's own words, including inline markup. A slot with a box of its own has its words itself.
function text_of(el) {
  if (!first_of(el) && !el.shadowRoot && el.tagName !== "SLOT") return "";
  let words = "", own = false;
  const take = (node) => {
    if (node.nodeType === 3) { words += node.data; own = own || /\S/.test(node.data); }
    else if (node.nodeType !== 1) return;
    else if (node.tagName === "SLOT") {
      if (getComputedStyle(node).display !== "contents") return;
      for (const each of drawn_in(node)) if (each.tagName !== "SLOT") take(each);
    } else if (plain(node)) words += node.tagName === "BR" ? " " : node.textContent;
  };
  if (el.shadowRoot || el.tagName === "SLOT") for (const node of drawn_in(el)) take(node);
  else for (let node = first_of(el); node; node = next_of(node)) take(node);
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
  if (role === "combobox") return squeeze(said_in(el, BUT_ALL, 0)) || squeeze(said_in(el, BUT_LISTS, 0));
  return "";
}

// What a slider holds at least and at most. One of two knobs on a track stops at the other: then it is the track's.
function limits_of(el) {
  const given = el.tagName === "INPUT" ? [el.min === "" ? 0 : el.min, el.max === "" ? 100 : el.max] : [el.getAttribute("aria-valuemin"), el.getAttribute("aria-valuemax")];
  if (given[0] === null || given[1] === null) return null;
  let least = Number(given[0]), most = Number(given[1]);
  for (let here = el.tagName === "INPUT" ? null : el.parentElement, depth = 0; here && depth < 4; here = here.parentElement, depth++) {
    const others = Array.from(here.querySelectorAll("[role=slider]")).filter((each) => each !== el);
    for (const each of others) {
      const [low, now, high] = ["min", "now", "max"].map((part) => Number(each.getAttribute("aria-value" + part)));
      if (now === most && high > most) most = high;
      if (now === least && low < least) least = low;
    }
    if (others.length) break;
  }
  return Number.isFinite(least) && Number.isFinite(most) && most > least ? [least, most] : null;
}

const disabled_parts = !!document.querySelector("fieldset:disabled");
const truth = (el, name) => el.getAttribute(name) === "true";

function flags_of(el, tag, role, style, pointed) {
  let flags = 0;
  if (!(el.disabled || truth(el, "aria-disabled") || (disabled_parts && el.closest("fieldset:disabled")))) flags |= ENABLED;
  if (TOGGLES.has(role)) flags |= CHECKABLE;
  if (!el.hasAttributes()) return flags | ((pointed || ACTS.has(role)) && style.pointerEvents !== "none" ? CLICKABLE : 0) | (el === active ? FOCUSED : 0) | flow_of(el, style);
  if (el.checked || truth(el, "aria-checked") || truth(el, "aria-pressed")) flags |= CHECKED;
  if (truth(el, "aria-selected") || (el.hasAttribute("aria-current") && !el.matches("[aria-current=false]"))) flags |= SELECTED;
  if (el === active) flags |= FOCUSED;
  if (tag === "INPUT" && el.type === "password") flags |= PASSWORD;
  if (edited(el) || ((tag === "TEXTAREA" || (tag === "INPUT" && !(el.type in INPUTS))) && !el.readOnly)) flags |= EDITABLE;
  if (PASSING.has(el.getAttribute("role")) || PASSING.has(el.getAttribute("aria-live"))) flags |= MESSAGE;
  const tabs = el.getAttribute("tabindex");
  const acts = ACTS.has(role) || el.onclick || el.hasAttribute("onclick") || pointed || (tabs !== null && Number(tabs) >= 0 && role !== "dialog");
  if (acts && style.pointerEvents !== "none") flags |= CLICKABLE;
  return flags | flow_of(el, style);
}

function flow_of(el, style) {
  const flows = style.overflowY, aside = style.overflowX;
  const down = (flows === "auto" || flows === "scroll") && el.scrollHeight > el.clientHeight + 1 && el.clientHeight > 0 ? SCROLLABLE : 0;
  return down | ((aside === "auto" || aside === "scroll") && el.scrollWidth > el.clientWidth + 8 && el.clientWidth > 0 ? ACROSS : 0);
}

function kind_of(el, tag) {
  if (tag === "SELECT" && !el.multiple && el.size < 2) return "select";
  if (tag === "INPUT" && (el.type === "date" || el.type === "file")) return el.type;
  return "";
}

let active = document.activeElement;
for (let inner = active; inner; ) {
  active = inner;
  inner = inner.shadowRoot ? inner.shadowRoot.activeElement : inner.tagName === "IFRAME" ? (page_in(inner) || {}).activeElement : null;
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

// What is pressed and holds several lines of words is called by the first, as a row is; not by all of them.
function is_card(el) {
  let lines = 0;
  const inside = el.querySelectorAll("h1,h2,h3,h4,p,div,li");
  const slotted = el.getRootNode().host ? el.getRootNode().host.querySelectorAll("h1,h2,h3,h4,p,div") : [];
  for (const each of [...Array.from(inside), ...Array.from(slotted)].slice(0, 12)) if (text_of(each)) lines++;
  return lines > 1;
}

const labels_toggle = (el) => el.control && (TOGGLES.has(role_of(el.control, el.control.tagName)));
