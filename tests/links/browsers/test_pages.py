"""Scripts written by hand, replayed on pages of many makes in both engines: what each step becomes, and what the page was told."""

from __future__ import annotations

import tempfile
from pathlib import Path

from copione.language.printer import step_words
from copione.links.bench import Device
from copione.links.browser.kept import BrowserSpec
from copione.model.action import Start
from copione.model.clock import SystemClock
from copione.model.key import Key
from copione.model.outcome import Outcome, Result
from copione.project.project import Project
from copione.recording.session import Session
from copione.replay.run import Run
from copione.touch.making import drag, tap

from ...benches import Heard
from .devices import bench_of
from .pages import HEAD, BrowserCase, engines, named, screen_of

GOOD = {Outcome.HELD, Outcome.ADAPTED}
ENDLESS = """<div id="l" style="height:500px;overflow-y:auto" onscroll="more();document.title='scrolled'"></div>
<script>let n = 30; const list = document.getElementById("l");
function more() { while (list.scrollTop + 1500 > list.scrollHeight) add(n++); }
function add(i) { const row = document.createElement("p"); row.textContent = "Row " + i; row.style.height = "40px"; list.append(row); }
for (let i = 0; i < n; i++) add(i);</script>"""

WHEEL = """<p style="margin:4px">Glaze</p><div id="w" style="height:200px;overflow:hidden;touch-action:none"><div id="s"></div></div>
<script>const names = ["Ash", "Celadon", "Shino", "Tenmoku", "Salt", "Slip"]; let at = 0, y0 = null;
s.innerHTML = names.map((n, i) => `<div style="height:40px;line-height:40px" data-i="${i}">${n}</div>`).join("");
const put = (y) => { s.style.transform = `translateY(${y}px)`; }, rest = (i) => { at = Math.max(0, Math.min(5, i)); put(80 - 40 * at); };
rest(0);
w.ontouchstart = (e) => { y0 = e.touches[0].clientY; }; w.ontouchmove = (e) => put(80 - 40 * at + e.touches[0].clientY - y0);
w.ontouchend = (e) => rest(at - Math.round((e.changedTouches[0].clientY - y0) / 40));
s.onclick = (e) => rest(+e.target.dataset.i);</script>"""


class Pages(BrowserCase):
    def replayed(self, devices: list[Device], body: str, step: str) -> Result:
        """A step on a page that is opened in one and the same browser."""
        (self.folder / "index.html").write_text(HEAD, "utf-8")
        (self.folder / "page.html").write_text(HEAD + body, "utf-8")
        with tempfile.TemporaryDirectory() as scratch:
            project = Project.create(Path(scratch), "Pages")
            project.learn_app(self.served.url, "web")
            path = project.scripts_folder / "page.copione"
            app = next(iter(project.apps))
            lines = "".join(f"    {each}\n" for each in ("launch", f'open "{self.served.url}/page.html"', step))
            path.write_text(f'script "Page"\napp {app}\npatience 8 s\nscene "One"\n{lines}', "utf-8")
            heard = Heard()
            run = Run(project, project.load(path), devices, heard, SystemClock())
            run.start()
            run.wait()
            return heard.results["B"][-1]

    def test_what_a_step_becomes(self) -> None:
        slides = "".join(f'<button style="flex:0 0 180px;height:80px">Slide {n}</button>' for n in range(8))
        carousel = f'<div style="display:flex;overflow-x:auto;width:380px">{slides}</div>'
        slider = """<div style="width:300px;height:20px;margin:30px;position:relative;background:#ccc" id="t">
<div style="height:20px;width:20%;background:#36c;position:relative" id="f"><div role="slider" tabindex="0" aria-label="Heat"
aria-valuemin="0" aria-valuemax="100" aria-valuenow="20" id="k"
style="position:absolute;right:-10px;top:0;width:20px;height:20px;background:#000"></div></div></div>
<script>const set = (x) => { const v = Math.max(0, Math.min(100, Math.round((x - t.getBoundingClientRect().left) / 3)));
f.style.width = v + "%"; k.setAttribute("aria-valuenow", v); };
t.onpointerdown = (e) => { t.setPointerCapture(e.pointerId); set(e.clientX); }; t.onpointermove = (e) => e.buttons && set(e.clientX);
t.style.touchAction = "none";</script>"""
        combo = """<label for="c">City</label><input id="c" role="combobox" aria-expanded="false" oninput="document.title=this.value">"""
        names = """<div role="tabpanel" aria-label="Panel">Inside the panel</div><ul><li aria-label="Day"><b>24</b></li></ul>
<input placeholder="Search hives"><label>Name*<input oninput="document.title=this.value"></label><button title="Close it">x</button>
<span role="button" tabindex="0">Twin</span><a href="#t">Twin</a>"""
        line = """<span>Shapes: 2</span> <button>Pen</button><p><span>Tool</span> <button>Other</button> <span>Brush</span></p>"""
        knob = """<div style="width:300px;height:4px;margin:40px;background:#ccc;position:relative" id="t"><div role="slider" tabindex="0"
aria-label="Peak" aria-valuemin="0" aria-valuemax="100" aria-valuenow="20" id="k"
style="position:absolute;left:48px;top:-10px;width:24px;height:24px;background:#000;touch-action:none"></div></div>
<script>let x0, v0; k.onpointerdown = (e) => { k.setPointerCapture(e.pointerId); x0 = e.clientX; v0 = +k.getAttribute("aria-valuenow"); };
k.onpointermove = (e) => { if (!e.buttons) return; const v = Math.max(0, Math.min(100, v0 + Math.round((e.clientX - x0) / 3)));
k.setAttribute("aria-valuenow", v); k.style.left = 3 * v - 12 + "px"; };</script>"""
        scrolled = f"""<div style="height:400px;overflow-y:auto" id="l"><input placeholder="Search hives"><p style="height:300px">Above</p>
{"".join(f"<p>Row {n}</p>" for n in range(60))}</div><script>l.scrollTop = 300;</script>"""
        slide = """<div inert><p style="height:60px">Photo 1</p></div>"""
        rows = (
            (knob, 'set slider "Peak" to 60', Outcome.HELD, ""),
            (WHEEL, 'choose "Salt" in combobox "Glaze"', Outcome.HELD, ""),
            (slide, 'swipe left on text "Photo 1"', Outcome.HELD, ""),
            (carousel, 'tap button "Slide 6"', Outcome.ADAPTED, "scrolled to it"),
            (scrolled, 'type "two" into field "Search hives"', Outcome.ADAPTED, "scrolled to it"),
            (slider, 'set slider "Heat" to 70', Outcome.HELD, ""),
            (combo, 'type "Oslo" into combobox "City"', Outcome.HELD, ""),
            (names, 'check text "Inside the panel" is shown', Outcome.HELD, ""),
            (names, 'check text "24" is shown', Outcome.HELD, ""),
            (names, 'type "two" into field "Search hives"', Outcome.HELD, ""),
            (names, 'type "Bo" into field "Name"', Outcome.HELD, ""),
            (names, 'tap button "Close it"', Outcome.HELD, ""),
            (names, 'tap tab "Twin"', Outcome.STUCK, "two could be it"),
            (line, 'check label "Shapes: 2" reads "2"', Outcome.HELD, ""),
            (line, 'check label "Tool" reads "Brush"', Outcome.HELD, ""),
            (ENDLESS, 'check text "Row 9999" is shown within 2 s', Outcome.DIFFERS, "not shown"),
            (ENDLESS, 'find text "Row 9999" within 3 s', Outcome.STUCK, "the time was up before the end of its list"),
        )
        for word in engines():
            with bench_of([BrowserSpec("B", word, 412, 800)]) as devices:
                for body, step, outcome, words in rows:
                    with self.subTest(step, word=word):
                        result = self.replayed(devices, body, step)
                        self.assertEqual((result.outcome, words in result.reason), (outcome, True), (result.reason, result.read))

    def test_what_is_recorded_is_what_the_page_was_hit_on(self) -> None:
        """It has changed since the hand saw it; letters go into whatever takes them."""
        body = """<button style="width:200px;height:60px" id="a">Keep</button><button style="width:200px;height:60px" id="b">Delete</button>
<p><label for="c">City</label><input id="c" role="combobox"></p>"""
        (self.folder / "index.html").write_text(HEAD + body, "utf-8")
        for word, link in self.links.items():
            with self.subTest(word), tempfile.TemporaryDirectory() as scratch:
                session = Session(link, Project.create(Path(scratch), "Pages"), self.served.url)
                session.launch(Start.AFRESH)
                keep, city = (named(screen_of(session.look()), *wanted) for wanted in (("Keep",), ("City", "combobox")))
                link.tab.run("document.body.prepend(document.getElementById('b'));")
                session.touch([tap(*keep.box.centre)], session.moment.png)
                session.touch([tap(*city.box.centre)])
                session.type("Oslo")
                told = [step_words(step.step) for step in session.recording.steps[1:]]
                self.assertEqual(told, ['tap button "Delete"', 'type "Oslo" into combobox "City"'])
                link.tab.run("d = document.createElement('dialog'); d.textContent = 'Sure?'; document.body.append(d); d.showModal();")
                link.tab.run("d.onclick = () => d.close();")
                self.assertIn("dialog", screen_of(session.look()).roles)
                session.touch([tap(12, 700)])
                self.assertEqual(step_words(session.recording.steps[-1].step), "press back", "the backdrop is nothing of the dialog")
                session.discard()

    def test_going_back_closes_what_lies_over_the_page_and_nothing_else(self) -> None:
        """By Escape, or by a touch beside it; a page of its own that fills the window is left as it was come to."""
        veil = """<style>.veil { position: fixed; inset: 0; background: #0003; z-index: 5 } .tip { position: fixed; z-index: 6; top: 200px }
</style><button onclick="document.title = 'below'">Below</button><p>Words of the page</p>
<div id="all"><div class="veil" id="v"></div><div class="tip">Ask the potter.</div></div><script>
const gone = () => { document.getElementById("all").remove(); document.title += " closed"; };%s</script>"""
        full = '<p>Words</p><div style="position:fixed;inset:0;background:#fff"><p>Another page</p></div>'
        for word, link in self.links.items():
            for how, script in (
                ("touch", "v.onclick = gone;"),
                ("Escape", 'onkeydown = (e) => e.key === "Escape" && gone();'),
                ("neither", ""),
            ):
                with self.subTest(how, word=word):
                    self.shown(link, "before", "before.html")
                    self.shown(link, veil % script)
                    link.press(Key.BACK)
                    page = screen_of(link.moment())
                    title, left = next(e.name for e in page if e.role == "document"), how == "neither"
                    self.assertEqual((title, "before" in page.names), ("A page" if left else "A page closed", left))
            with self.subTest("a page", word=word):
                self.shown(link, full)
                self.assertIsNone(link.tab.veil())

    def test_a_tap_on_the_veil_under_a_popover_is_going_back(self) -> None:
        body = """<p style="margin-top:300px">Words</p><div id="all">
<div style="position:fixed;inset:0;background:#0003;z-index:5" onclick="this.parentNode.remove()"></div>
<div style="position:fixed;z-index:6;top:20px">Ask the potter.</div></div>"""
        (self.folder / "index.html").write_text(HEAD + body, "utf-8")
        for word, link in self.links.items():
            with self.subTest(word), tempfile.TemporaryDirectory() as scratch:
                session = Session(link, Project.create(Path(scratch), "Pages"), self.served.url)
                session.launch(Start.AFRESH)
                session.touch([tap(200, 500)])
                self.assertEqual(step_words(session.recording.steps[-1].step), "press back")
                session.discard()

    def test_what_a_stroke_turns_and_what_stands_under_which_words(self) -> None:
        cards = "".join(f'<div style="height:70px"><b>Load {n}</b> <button onclick="document.title+=1">Open</button></div>' for n in (1, 2))
        body = f"""{WHEEL}<div role="tabpanel" aria-label="Panel"><button>One</button><div style="height:60px">&nbsp;</div>{cards}</div>"""
        (self.folder / "index.html").write_text(HEAD + body, "utf-8")
        for word, link in self.links.items():
            with self.subTest(word), tempfile.TemporaryDirectory() as scratch:
                session = Session(link, Project.create(Path(scratch), "Pages"), self.served.url)
                session.launch(Start.AFRESH)
                wheel, panel = (named(screen_of(session.look()), *who) for who in (("Glaze", "combobox"), ("Panel",)))
                x, y = wheel.box.centre
                session.touch([drag(x, y + 30, x, y - 50) if link.touches else tap(x, y + 80)])
                open_ = [e for e in screen_of(session.look()) if e.name == "Open"][1]
                session.touch([tap(*open_.box.centre)])
                session.touch([tap(panel.box.left + 300, named(screen_of(session.look()), "One").box.bottom + 30)])
                told = [step_words(step.step) for step in session.recording.steps[1:]]
                self.assertEqual(told, ['choose "Shino" in combobox "Glaze"', 'tap button "Open" under "Load 2"'])
                session.discard()

    def test_a_tap_on_a_canvas_goes_to_what_is_drawn_there_though_the_canvas_has_another_size(self) -> None:
        body = """<canvas id="board" style="width:100%;height:160px"></canvas><p id="p">Not yet</p><script>
board.width = board.clientWidth; board.height = 160; const c = board.getContext("2d"), x = board.width - 130, y = 60;
c.fillStyle = "#c63"; c.fillRect(x, y, 60, 60); c.fillStyle = "#000"; c.font = "40px serif"; c.fillText("K", x + 14, y + 44);
board.onclick = (e) => { p.textContent = e.offsetX > x && e.offsetX < x + 60 && e.offsetY > y && e.offsetY < y + 60 ? "Hit" : "Missed"; };
</script>"""
        (self.folder / "index.html").write_text(HEAD + body, "utf-8")
        wanted = [BrowserSpec("W", word, 700, 800) for word in engines()][:1]
        link = next(iter(self.links.values()))
        with tempfile.TemporaryDirectory() as scratch, bench_of(wanted) as devices:
            project = Project.create(Path(scratch), "Pages")
            session = Session(link, project, self.served.url)
            session.launch(Start.AFRESH)
            canvas = next(e for e in screen_of(session.look()) if e.role == "canvas").box
            session.touch([tap(canvas.right - 100, canvas.top + 90)])
            self.assertIn("Hit", screen_of(session.look()).names)
            path = session.save("Board")
            heard = Heard()
            run = Run(project, project.load(path), devices, heard, SystemClock())
            run.start()
            run.wait()
            result = heard.results["W"][-1]
            self.assertEqual((result.outcome, result.reason), (Outcome.ADAPTED, "placed by what is drawn there"))
            assert devices[0].worker is not None
            self.assertIn("Hit", devices[0].worker.submit(lambda link: screen_of(link.glimpse()).names).result())
