"use strict";
// A potter's book of firings. What is kept lives as long as the tab; saving takes its time, as over a slow line.
const SAVE_MS = 900, NARROW = 360;
const FIRST = [
  ["Breakfast bowls", "Celadon", 1220, "Reduction"], ["Tile samples", "Ash", 1180, "Oxidation"], ["Garden lanterns", "Tenmoku", 1260, "Reduction"],
  ["Small cups", "Shino", 1240, "Reduction"], ["Planters", "No glaze", 1080, "Oxidation"], ["Wall plates", "Celadon", 1220, "Neutral"],
  ["Jars with lids", "Ash", 1230, "Reduction"], ["Test rings", "Tenmoku", 1250, "Oxidation"], ["Tea bowls", "Shino", 1245, "Reduction"],
  ["Oil lamps", "No glaze", 1100, "Neutral"], ["Deep platters", "Celadon", 1225, "Reduction"], ["Whistles", "No glaze", 1060, "Oxidation"],
  ["Salt pots", "Ash", 1235, "Reduction"], ["Bird baths", "Tenmoku", 1255, "Neutral"],
];
const kept = JSON.parse(sessionStorage.getItem("firings") || "null");
const book = kept || FIRST.map(([load, glaze, peak, air], n) => ({ load, glaze, peak, air, day: `2026-10-${String(28 - n).padStart(2, "0")}`, cones: n % 2 === 0, note: "" }));
const page = document.getElementById("page"), title = document.getElementById("title"), back = document.getElementById("back");
const keep = () => sessionStorage.setItem("firings", JSON.stringify(book));

function make(tag, facts, ...inside) {
  const el = document.createElement(tag);
  for (const [name, value] of Object.entries(facts || {}))
    name.startsWith("on") ? el.addEventListener(name.slice(2), value) : value === true ? el.setAttribute(name, "") : value !== false && el.setAttribute(name, value);
  el.append(...inside);
  return el;
}

function say(words) {
  const said = document.getElementById("said");
  said.textContent = words;
  said.hidden = false;
  clearTimeout(say.timer);
  say.timer = setTimeout(() => { said.hidden = true; }, 4000);
}

const degrees = (peak) => `${innerWidth < NARROW ? Math.floor(peak / 100) * 100 : peak} °C`; // on narrow pages the last figures are lost
const pot = () => { const place = document.createElement("div"); place.innerHTML = '<svg viewBox="0 0 48 48" aria-hidden="true"><path d="M16 8h16l-2 6q10 8 4 22q-2 6-10 6t-10-6q-6-14 4-22z" fill="#8a4b2f"/></svg>'; return place.firstChild; };

function firings() {
  const search = make("input", { type: "search", "aria-label": "Search", placeholder: "Load or glaze" });
  const list = make("ul", { "aria-label": "Firings" });
  const fill = () => list.replaceChildren(...book.filter((f) => `${f.load} ${f.glaze}`.toLowerCase().includes(search.value.toLowerCase())).map((f) =>
    make("li", { onclick: () => { location.hash = `#/firing/${book.indexOf(f)}`; } }, pot(), make("span", { class: "name" }, f.load),
      make("span", { class: "more" }, `${f.glaze}, ${degrees(f.peak)}`),
      make("button", { "aria-label": "Fire again", onclick: (event) => { event.stopPropagation(); say(`${f.load} is planned`); } }, "↻"))));
  search.addEventListener("input", fill);
  fill();
  page.append(make("div", { class: "row" }, make("button", { class: "main", onclick: () => { location.hash = "#/new"; } }, "New firing")), search, list);
}

function form() {
  const load = make("input", { type: "text", id: "load", autocomplete: "off" });
  const glaze = make("select", { id: "glaze" }, ...["No glaze", "Ash", "Celadon", "Shino", "Tenmoku"].map((each) => make("option", {}, each)));
  const peak = make("input", { type: "range", id: "peak", min: 900, max: 1300, step: 20, value: 1100 });
  const shown = make("output", { for: "peak" }, "1100");
  peak.addEventListener("input", () => { shown.textContent = peak.value; });
  const air = make("fieldset", {}, make("legend", {}, "Atmosphere"), ...["Oxidation", "Neutral", "Reduction"].map((each) =>
    make("label", {}, make("input", { type: "radio", name: "air", value: each, checked: each === "Oxidation" }), ` ${each}`)));
  const cones = make("input", { type: "checkbox", id: "cones" });
  const day = make("input", { type: "date", id: "day", value: "2026-11-02" });
  const note = make("textarea", { id: "note", rows: 3, tabindex: innerWidth < NARROW ? 1 : 0 }); // on narrow pages the keyboard comes to it first
  const save = make("button", { class: "main", onclick: () => {
    if (!load.value.trim()) { alert("A firing needs a load."); return; }
    save.disabled = true;
    save.textContent = "Saving…";
    setTimeout(() => {
      book.unshift({ load: load.value.trim(), glaze: glaze.value, peak: Number(peak.value), air: air.querySelector(":checked").value, day: day.value, cones: cones.checked, note: note.value });
      keep();
      location.hash = "#/firings";
      say("Firing saved");
    }, SAVE_MS);
  } }, "Save firing");
  page.append(make("label", { for: "load" }, "Load"), load, make("label", { for: "glaze" }, "Glaze"), glaze, make("label", { for: "peak" }, "Peak"), peak,
    make("div", { class: "label" }, "Set to ", shown, " °C"), air, make("label", {}, cones, " Witness cones set"), make("label", { for: "day" }, "Fired on"), day,
    make("label", { for: "note" }, "Notes"), note, make("div", { class: "row" }, save));
}

function firing(number) {
  const f = book[number];
  if (!f) { location.hash = "#/firings"; return; }
  title.textContent = f.load;
  const facts = [["Glaze", f.glaze], ["Peak", degrees(f.peak)], ["Atmosphere", f.air], ["Fired on", f.day], ["Witness cones", f.cones ? "Set" : "Not set"], ["Notes", f.note || "None"]];
  page.append(make("dl", {}, ...facts.flatMap(([name, value]) => [make("dt", {}, name), make("dd", {}, value)])),
    make("div", { class: "row" }, make("button", { onclick: () => {
      if (confirm(`Delete ${f.load}?`)) { book.splice(number, 1); keep(); location.hash = "#/firings"; say("Firing deleted"); }
    } }, "Delete"), make("button", { onclick: () => window.open("label.html", "_blank") }, "Print a label")));
}

function shelf() {
  for (const glaze of ["Ash", "Celadon", "Shino", "Tenmoku"])
    page.append(make("h2", {}, glaze), make("div", {}, `${book.filter((f) => f.glaze === glaze).length} firings`), make("div", { class: "row" }, make("button", { onclick: () => say(`${glaze} is mixed`) }, "Mix")));
}

function kiln() {
  const state = make("button", { role: "switch", "aria-checked": "false", "aria-label": "Kiln on", onclick: () => {
    const on = state.getAttribute("aria-checked") !== "true";
    state.setAttribute("aria-checked", on);
    state.textContent = on ? "On" : "Off";
  } }, "Off");
  page.append(make("dl", {}, make("dt", {}, "Firings so far"), make("dd", {}, String(book.length)), make("dt", {}, "Next service"), make("dd", {}, "2027-03-01")), make("div", { class: "row" }, state));
}

const PAGES = { firings: ["Kiln Book", firings], new: ["New firing", form], firing: ["Firing", firing], shelf: ["Shelf", shelf], kiln: ["Kiln", kiln] };

function show() {
  const [, name, number] = location.hash.split("/");
  const [called, draw] = PAGES[name] || PAGES.firings;
  title.textContent = called;
  page.replaceChildren();
  back.hidden = !["new", "firing"].includes(name);
  for (const tab of document.querySelectorAll("[role=tab]")) tab.setAttribute("aria-selected", tab.dataset.to === `#/${name || "firings"}`);
  draw(Number(number));
  scrollTo(0, 0);
}

for (const tab of document.querySelectorAll("[role=tab]")) tab.addEventListener("click", () => { location.hash = tab.dataset.to; });
back.addEventListener("click", () => history.back());
addEventListener("hashchange", show);
show();
