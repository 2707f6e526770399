"""A browser does as a link what every device does: the same on every engine that is installed."""

import contextlib
import http.server
import itertools
import os
import signal
import threading
import time
from datetime import date
from unittest import mock

from copione.links.browser.engines import ENGINES, installed
from copione.links.browser.kept import BrowserSpec, wanted
from copione.links.browser.link import BrowserLink
from copione.links.browser.popups import options, other_month
from copione.links.browser.tab import Tab
from copione.links.link import InstallsApps, TakesCalls, TellsTouches
from copione.model.action import Start
from copione.model.condition import Condition
from copione.model.errors import AppMissing, DeviceGone, FileTrouble, LinkError, NoAnswer
from copione.model.key import Key
from copione.model.screen import Flag, Moment
from copione.touch.making import drag, fling, hold, hold_drag, swipe, tap, two_fingers

from .devices import started
from .pages import HEAD, BrowserCase, named, screen_of, tapped

COUNTING = """<p id="p">none</p><div id="b" style="position:absolute;top:100px;width:300px;height:300px" tabindex="0">Field</div>
<script>const seen = {}; for (const kind of ["pointerdown", "pointerup", "click", "pointermove", "touchstart"])
addEventListener(kind, (e) => { seen[kind] = (seen[kind] || 0) + 1; if (e.touches) seen.most = Math.max(seen.most || 0, e.touches.length);
document.getElementById("p").textContent = JSON.stringify(seen); }, true);</script>"""


class Conformance(BrowserCase):
    def test_the_profile_is_read_from_the_page(self) -> None:
        def test(link: BrowserLink) -> None:
            profile = link.profile()
            self.assertEqual((profile.platform, profile.locale, profile.name), ("web", "en-GB", link.wanted.name))
            self.assertEqual((profile.width, profile.height), (412, 800))
            self.assertEqual(profile.pointer, "" if link.engine.touch else "mouse")
            self.assertIn(link.engine.name, profile.system)

        self.each(test)

    def test_an_app_is_an_address_and_afresh_nothing_of_it_is_left(self) -> None:
        body = "<script>const n = Number(localStorage.n || 0) + 1; localStorage.n = n; document.write('<h1>Visit ' + n + '</h1>');</script>"

        def test(link: BrowserLink) -> None:
            self.shown(link, body, "index.html")
            link.launch(self.served.url, Start.AFRESH)
            first = screen_of(link.moment())
            self.assertEqual((first.app, first.activity), (self.served.url, "/"))
            self.assertIn("Visit 1", first.names)
            link.launch(self.served.url, Start.FRONT)
            self.assertIn("Visit 1", screen_of(link.moment()).names)
            link.launch(self.served.url, Start.KEEPING)
            self.assertIn("Visit 2", screen_of(link.moment()).names)
            self.assertEqual(link.front()[0], self.served.url)
            link.stop(self.served.url)
            self.assertEqual(link.front(), ("", ""))
            with self.assertRaises(LinkError, msg="where nothing answers"):
                link.open("http://127.0.0.1:9/")
            for wrong in ("org.example.app", "file:///etc/passwd", "javascript:alert(1)", "http://"):
                for act in (link.launch, link.open):
                    with self.assertRaises(AppMissing, msg=wrong):
                        act(wrong)

        self.each(test)

    def test_what_is_opened_is_looked_at_when_it_has_come_and_not_the_page_before(self) -> None:
        answers = itertools.count(1)

        class Slow(http.server.BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                threading.Event().wait(1.0)  # a server takes its time
                number = next(answers) if self.path == "/late" else 0
                with contextlib.suppress(OSError):  # the browser waits no more
                    self.send_response(200)
                    self.send_header("Content-Type", "text/html")
                    self.end_headers()
                    self.wfile.write(f"{HEAD}<h1>Answer {number}</h1><h2 id=there>There</h2>".encode())

            def log_message(self, *_: object) -> None:
                pass

        server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Slow)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        late = f"http://127.0.0.1:{server.server_port}/late"

        def test(link: BrowserLink) -> None:
            self.shown(link, "<h1>Before</h1>")
            seen = []
            for act in (lambda: link.open(late), link.reload, lambda: link.open(f"{late}#there")):
                act()
                seen.append(next(e.name for e in screen_of(link.moment()) if e.role == "heading"))
            first = int(seen[0].removeprefix("Answer "))  # "Before" is no number
            self.assertEqual(seen[1:], [f"Answer {first + 1}"] * 2)
            self.shown(link, "<h1>Before</h1>")
            told, document = [], Tab.document

            def busy(tab: Tab) -> tuple[str, float]:  # the computer is: the page does not say in time which it is
                told.append(tab)
                if len(told) in (1, 2):
                    raise NoAnswer("The page has given no whole answer for 2 s.")
                return document(tab)

            with mock.patch.object(Tab, "document", busy):
                link.open(late)
            self.assertIn("Answer", next(e.name for e in screen_of(link.moment()) if e.role == "heading"))

        self.each(test)

    def test_taps_strokes_and_several_fingers_come_to_the_page(self) -> None:
        def test(link: BrowserLink) -> None:
            field = named(self.shown(link, COUNTING), "Field").box.centre
            for contacts in ([tap(*field)], [hold(*field)], [swipe(200, 150, 200, 350)], [hold_drag(100, 150, 200, 350)]):
                link.touch(contacts)
            said = next(e.text for e in screen_of(link.moment()) if "pointerdown" in e.text)
            self.assertIn('"pointerdown":4', said)
            pinch = two_fingers(field, 60, 1.5)
            if not link.touches:
                with self.assertRaises(LinkError) as caught:
                    link.touch(pinch)
                self.assertIn("one pointer", caught.exception.sentence)
                return
            link.touch(pinch)
            self.assertIn('"most":2', next(e.text for e in screen_of(link.moment()) if "pointerdown" in e.text))
            link.finger("down", 150, 200)
            link.finger("move", 180, 260)
            link.finger("up", 180, 260)
            self.assertIn('"pointerdown":7', next(e.text for e in screen_of(link.moment()) if "pointerdown" in e.text))

        self.each(test)

    def test_a_page_scrolls_under_a_finger_and_says_how_far(self) -> None:
        frame = """<div style="position:fixed;inset:0;pointer-events:none"></div>"""  # messages come there, and touches go through it
        body = frame + "".join(f"<p style='height:60px'>Line {n}</p>" for n in range(60))

        def test(link: BrowserLink) -> None:
            before = self.shown(link, body)
            self.assertTrue(before.element(1).has(Flag.SCROLLABLE))
            for gesture in (drag(200, 700, 200, 300), drag(200, 700, 200, 300), fling(200, 600, 200, 200)):
                link.touch([gesture])
                after = screen_of(link.moment())
                self.assertGreater(after.scrolled[1], before.scrolled[1] + 100)
                before = after

        self.each(test)

    def test_a_stroke_aside_is_the_rows_own_where_its_list_goes_only_down(self) -> None:
        row = """<p id="row" style="height:60px;touch-action:pan-y">Closed</p><script>let x0 = null;
row.onpointerdown = (e) => { x0 = e.clientX; };
row.onpointermove = (e) => { if (x0 !== null && x0 - e.clientX > 60) row.textContent = "Open"; };</script>"""
        body = f"""<div style="height:400px;overflow-y:auto">{row}<div style="height:2000px">Long</div></div>"""

        def test(link: BrowserLink) -> None:
            y = named(self.shown(link, body), "Closed").box.centre[1]
            link.touch([drag(300, y, 100, y)])
            self.assertIn("Open", screen_of(link.moment()).names)

        self.each(test)

    def test_text_is_typed_as_it_is_and_keys_do_what_they_do(self) -> None:
        words = """Größe "x"; $(reboot) <b> עברית"""

        def test(link: BrowserLink) -> None:
            screen = tapped(link, named(self.shown(link, '<input aria-label="Words"><textarea aria-label="More"></textarea>'), "Words"))
            self.assertTrue(named(screen, "Words").has(Flag.FOCUSED))
            link.type_text(words)
            self.assertEqual(named(screen_of(link.moment()), "Words").text, words)
            link.press(Key.BACKSPACE, 7)
            link.press(Key.END)
            link.type_text("z")
            self.assertEqual(named(screen_of(link.moment()), "Words").text, words[:-7] + "z")
            more = named(tapped(link, named(screen_of(link.moment()), "More")), "More")
            link.type_text("one\ntwo\nthree")
            link.touch([tap(more.box.left + 20, more.box.top + 8)])  # into the first line
            link.press(Key.END)
            link.type_text("!")
            self.assertEqual(named(screen_of(link.moment()), "More").text.split(), ["one", "two", "three!"])
            link.touch([tap(more.box.left + 20, more.box.top + 8)])
            for key in (Key.BACKSPACE, Key.DELETE):
                link.press(key, 20)
            self.assertEqual(named(screen_of(link.moment()), "More").text, "")

        self.each(test)

    def test_choices_days_and_files_are_made_as_on_a_phone(self) -> None:
        many = "".join(f"<option>Choice {n}</option>" for n in range(40))
        body = f"""<select aria-label="Many">{many}</select>
<input type="date" aria-label="Day" value="2026-10-05"><input type="file" aria-label="Photo">
<p id="p"></p><script>for (const e of document.querySelectorAll("select,input"))
e.addEventListener("change", () => {{ p.textContent += e.ariaLabel + " changed. "; }});</script>"""

        def test(link: BrowserLink) -> None:
            screen = tapped(link, named(self.shown(link, body), "Many"))
            offered = named(screen, "Many", "list")
            self.assertTrue(offered.has(Flag.SCROLLABLE) and not any(e.name == "Choice 30" for e in screen))
            link.touch([drag(*offered.box.centre, offered.box.centre[0], offered.box.centre[1] - 900)])
            screen = tapped(link, named(screen_of(link.moment()), "Choice 30"))
            self.assertEqual(named(screen, "Many").text, "Choice 30")
            screen = tapped(link, named(tapped(link, named(screen, "Day")), "Later"))
            self.assertEqual(named(tapped(link, named(screen, "2026-11-20")), "Day").text, "2026-11-20")
            tapped(link, named(screen_of(link.moment()), "Many"))
            link.press(Key.BACK)
            screen = tapped(link, named(screen_of(link.moment()), "Photo"))
            place = self.folder / "hive.png"
            place.write_bytes(b"picture")
            for wrong in ("/etc/hostname", "../hive.png", "no.png"):
                with self.assertRaises(LinkError, msg=wrong):
                    link.type_text(wrong)
            link.files = self.folder
            link.type_text("hive.png")
            screen = screen_of(link.moment())
            self.assertEqual(named(screen, "Photo").text, "hive.png")
            self.assertTrue(any(e.text == "Many changed. Day changed. Photo changed." for e in screen), [e.text for e in screen])

        self.each(test)

    def test_dialogs_of_the_browser_are_screens(self) -> None:
        body = """<button onclick="alert('Look out')">Warn</button><button onclick="p.textContent = confirm('Sure?')">Ask</button>
<button onclick="p.textContent = prompt('How many?')">Count</button><p id="p">-</p>"""

        def test(link: BrowserLink) -> None:
            screen = tapped(link, named(self.shown(link, body), "Warn"))
            self.assertEqual([(e.role, e.name) for e in screen][1:3], [("dialog", "Look out"), ("text", "Look out")])
            self.assertTrue(link.moment().png.startswith(b"\x89PNG"))
            screen = tapped(link, named(screen, "OK"))
            for name, answer, said in (("Ask", "OK", "true"), ("Ask", "Cancel", "false")):
                screen = tapped(link, named(tapped(link, named(screen, name)), answer))
                self.assertIn(said, screen.texts)
            screen = tapped(link, named(screen, "Count"))
            link.type_text("127")
            link.press(Key.BACKSPACE)
            self.assertEqual(named(screen_of(link.moment()), "Answer").text, "12")
            self.assertIn("12", tapped(link, named(screen, "OK")).texts)

        self.each(test)

    def test_a_page_that_opens_aside_is_followed_and_left_again(self) -> None:
        (self.folder / "aside.html").write_text("<title>Aside</title><h1>Aside</h1>", "utf-8")

        def test(link: BrowserLink) -> None:
            screen = self.shown(
                link, '<a href="aside.html" target="_blank">Open</a><button onclick="location = \'aside.html\'">Go</button>'
            )
            self.assertIn("Aside", tapped(link, named(screen, "Open")).names)
            link.press(Key.BACK)
            screen = screen_of(link.moment())
            self.assertIn("Aside", tapped(link, named(screen, "Go")).names)
            link.press(Key.BACK)
            self.assertIn("Go", screen_of(link.moment()).names)
            link.reload()
            self.assertIn("Go", screen_of(link.moment()).names)

        self.each(test)

    def test_what_is_animated_is_waited_for(self) -> None:
        body = "<h1>First</h1><script>document.querySelector('h1').animate([{opacity: 0}, {opacity: 1}], 600);</script>"

        def test(link: BrowserLink) -> None:
            self.shown(link, body)
            link.reload()
            link.moment()
            self.assertEqual(link.tab.run("return document.getAnimations().length;"), 0)

        self.each(test)

    def test_it_is_turned_and_put_in_other_conditions_where_the_engine_can(self) -> None:
        def test(link: BrowserLink) -> None:
            self.shown(link, "<style>@media (prefers-color-scheme: dark) { p::after { content: '' } }</style><p>Here</p>")
            link.turn("landscape")
            screen = screen_of(link.moment())
            self.assertEqual((screen.width, screen.height), (800, 412))
            self.assertEqual(link.condition(Condition.ORIENTATION, ""), "landscape")
            link.turn("portrait")
            self.assertEqual(screen_of(link.moment()).width, 412)
            if link.engine.word == "chromium":
                link.have(Condition.DARK, "on", "")
                self.assertIs(link.tab.run("return matchMedia('(prefers-color-scheme: dark)').matches;"), True)
                link.have(Condition.NETWORK, "off", "")
                self.assertIs(link.tab.run("return navigator.onLine;"), False)
                link.have(Condition.NETWORK, "on", "")
            for act in (
                lambda: link.have(Condition.TEXT_SIZE, "1.3", ""),
                lambda: link.able(TakesCalls),
                lambda: link.able(InstallsApps),
                lambda: link.able(TellsTouches),
                lambda: link.press(Key.VOLUME_UP),
            ):
                with self.assertRaises(LinkError):
                    act()

        self.each(test)


class Trouble(BrowserCase):
    """What goes wrong has a sentence, and the next launch is well again."""

    def well_again(self, link: BrowserLink) -> None:
        self.assertIn("Well", self.shown(link, "<h1>Well</h1>").names)

    def test_the_driver_dies(self) -> None:
        def test(link: BrowserLink) -> None:
            self.well_again(link)
            assert link._process is not None
            for process in link._process._running:
                os.killpg(process.pid, signal.SIGKILL)
                process.wait()
            with self.assertRaises(DeviceGone):
                link.moment()
            self.well_again(link)

        self.each(test)

    def test_on_the_bench_it_is_started_anew_and_ended_when_it_is_taken_off(self) -> None:
        for word in self.links:
            with self.subTest(word), started([BrowserSpec("Mortal", word, 400, 700)]) as bench:
                (before,) = bench.look()
                link = before.worker.link
                for process in link._process._running:
                    os.killpg(process.pid, signal.SIGKILL)
                    process.wait()
                (after,) = bench.look()
                self.assertIsNot(after.worker, before.worker)
                self.assertEqual(after.worker.submit(lambda link: link.front()).result(), ("", ""))
                bench.remove_browser("Mortal")
                self.assertEqual(bench.devices(), [])

    def test_the_page_crashes_hangs_goes_on_or_asks_by_itself(self) -> None:
        busy = "<h1>Busy</h1><script>setTimeout(() => { for (;;); }, 50);</script>"
        leaves = "<div id='d' style='height:400px' onpointerdown=\"location = 'page2.html'\">Leave</div>"
        asks = """<h1>Quiet</h1><script>const look = () => fetch('now.html').then(r => r.ok ? alert('By itself') : setTimeout(look, 50));
look();</script>"""

        def test(link: BrowserLink) -> None:
            self.shown(link, "<h1>Second</h1>", "page2.html")
            screen = self.shown(link, leaves)
            link.touch([swipe(*named(screen, "Leave").box.centre, 200, 380, 0.8)])
            self.assertIn("Second", screen_of(link.moment()).names)
            now = self.folder / "now.html"
            now.unlink(missing_ok=True)
            self.assertIn("Quiet", self.shown(link, asks).names)
            now.write_text("", "utf-8")
            until = time.monotonic() + 20
            while link.tab.question() is None:  # asked so, since a dialog that opens as a script runs may hang a driver
                self.assertLess(time.monotonic(), until, "no dialog is seen")
            self.assertIn("By itself", screen_of(link.moment()).names)
            self.well_again(link)
            self.shown(link, "<h1>Before</h1>")
            link.patience = 3.0
            try:
                (self.folder / "busy.html").write_text(busy, "utf-8")
                with self.assertRaises(NoAnswer):
                    link.open(f"{self.served.url}/busy.html")
                    for _ in range(20):  # until it is busy
                        link.moment()
            finally:
                link.patience = 30.0
            self.well_again(link)

        self.each(test)

    def test_a_page_that_asks_before_anything_was_seen_of_it(self) -> None:
        (self.folder / "asks.html").write_text("<script>alert('At once')</script>", "utf-8")
        for word in self.links:
            with self.subTest(word), contextlib.closing(BrowserLink(BrowserSpec("Asks", word, 400, 700))) as link:
                seen = self.asked_at_once(link)
                self.assertIn("At once", screen_of(seen).names)
                self.assertTrue(seen.png)
                self.assertEqual((link.profile().width, link.profile().height), (400, 700))

    def asked_at_once(self, link: BrowserLink, tries: int = 4) -> Moment:
        """What is seen of it. Now and then Chromium's driver hangs for good when a page comes with a dialog: a launch starts it anew."""
        link.launch(self.served.url)
        link.patience = 8.0
        try:
            link.open(f"{self.served.url}/asks.html")
            return link.moment()
        except NoAnswer:
            if tries == 1:
                raise
        finally:
            link.patience = 30.0
        return self.asked_at_once(link, tries - 1)

    def test_a_hostile_page_tells_nothing_that_is_believed(self) -> None:
        body = """<h1>Trap</h1><script>JSON.stringify = () => "{}"; Array.prototype.push = () => 0;
Element.prototype.getBoundingClientRect = null;</script>"""
        many = "<script>document.write('<p>x</p>'.repeat(15000))</script>"

        def test(link: BrowserLink) -> None:
            (self.folder / "trap.html").write_text(body, "utf-8")
            link.launch(self.served.url)
            link.open(f"{self.served.url}/trap.html")
            moment = link.moment()
            self.assertIsNone(moment.screen)
            self.assertTrue(moment.trouble)
            self.assertLess(len(self.shown(link, many)), 12_001)

        self.each(test)


class Kept(BrowserCase):
    def test_what_ships_is_sound_and_what_is_not_is_said(self) -> None:
        self.assertEqual({each.engine for each in wanted()}, set(ENGINES))
        place = self.folder / "browsers.toml"
        good = '[[browser]]\nname = "A"\nengine = "chromium"\nwidth = 400\nheight = 800\n'
        for text in (
            "[[browser]]",
            good.replace("chromium", "gecko"),
            good.replace("400", "4"),
            good + good,
            good + 'colour = "red"',
            "x =",
        ):
            place.write_text(text, "utf-8")
            with self.assertRaises(FileTrouble, msg=text):
                wanted(place)
        place.write_text(good, "utf-8")
        self.assertEqual(wanted(place), (BrowserSpec("A", "chromium", 400, 800),))

    def test_what_is_not_installed_says_what_to_install(self) -> None:
        for engine in ENGINES.values():
            found = installed(engine, path="/nonexistent")
            self.assertIn(engine.packages, found.advice)
            link = BrowserLink(BrowserSpec("None", engine.word, 400, 800), found=found)
            with self.assertRaises(LinkError) as caught:
                link.profile()
            self.assertIn("apt install", caught.exception.sentence)

    def test_popups_hold_what_they_are_given(self) -> None:
        popup = options(320, 500, "", [], [])
        self.assertEqual(popup.touched([tap(5, 5)]), ("cancel",))
        self.assertEqual(other_month(date(2026, 12, 1), 1), date(2027, 1, 1))
        self.assertEqual(other_month(date(1, 1, 1), -1), date(1, 1, 1))
