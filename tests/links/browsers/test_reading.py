"""What a page tells of itself, by the rules of ARIA and of how names are computed."""

from copione.comparison.viewing import Showing, Viewer
from copione.model.errors import TreeUnreadable
from copione.model.screen import Flag
from copione.recognition.obstacles import plate_over
from copione.recognition.overlays import called_message, lies_under
from copione.recognition.reach import reach
from copione.recording.intent import meant_by_hit
from copione.screens.reading import is_wheel, reads
from copione.screens.web import read_page
from copione.touch.making import tap

from .pages import BrowserCase, named, screen_of, tapped

CONTROLS = """
<label for="a">Load</label><input id="a" value="Bowls">
<input aria-label="Peak" type="range" min="900" max="1300" value="1100">
<span id="x">Kiln</span><span id="y">number two</span><button aria-labelledby="x y">!</button>
<label><input type="checkbox" checked> Cones set</label>
<fieldset><legend>Air</legend><label><input type="radio" name="r"> Oxidation</label></fieldset>
<img alt="A pot" src="data:image/gif;base64,R0lGODlhAQABAAAAACw=" width="40" height="40">
<button><b>Save</b> all</button> <a href="#x">More of it</a> <button title="Help">?</button>
<select aria-label="Glaze"><option>Ash<option selected>Shino</select>
<div role="switch" aria-checked="true" aria-label="Fan" tabindex="0">on</div>
<input type="password" aria-label="Word" value="secret"> <textarea placeholder="Note"></textarea>
<div contenteditable aria-label="Free">words</div> <input type="submit"> <button disabled>Never</button>
<div role="progressbar" aria-label="Heat" aria-valuenow="40">..</div>
"""
TOLD = {
    ("textbox", "Load"): "Bowls",
    ("slider", "Peak"): "1100",
    ("button", "Kiln number two"): "!",
    ("checkbox", "Cones set"): "",
    ("radiogroup", "Air"): "",
    ("radio", "Oxidation"): "",
    ("img", "A pot"): "",
    ("button", "Save all"): "Save all",
    ("link", "More of it"): "More of it",
    ("button", "?"): "?",
    ("combobox", "Glaze"): "Shino",
    ("switch", "Fan"): "on",
    ("textbox", "Word"): "••••••",
    ("textbox", "Note"): "",
    ("textbox", "Free"): "words",
    ("button", "Submit"): "",
    ("button", "Never"): "Never",
    ("progressbar", "Heat"): "40",
}


class Reading(BrowserCase):
    size = (500, 900)

    def test_what_the_window_cuts_off_is_told_though_the_page_does_not_scroll(self) -> None:
        body = """<style>body { height: 100vh; margin: 0; overflow: hidden } p { position: absolute; margin: 0; height: 20px }</style>
<p style="top:100px">Whole</p>
<p style="top:-6px">Above</p><p style="bottom:-6px">Below</p><p style="bottom:0;right:0">At the edge</p>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, body)
            told = {name: named(screen, name).has(Flag.CUT) for name in ("Whole", "Above", "Below", "At the edge")}
            self.assertEqual(told, {"Whole": False, "Above": True, "Below": True, "At the edge": False})

        self.each(test)

    def test_what_is_on_its_way_is_not_whole_yet(self) -> None:
        body = """<style>@keyframes come { from { transform: scale(.4) } }
.a { animation: come 2.9s } .b { animation: come 2s infinite }</style>
<button>Still</button><div class="a"><button>Comes</button></div><div class="b"><button>Turns</button></div>"""

        def test(link):  # type: ignore[no-untyped-def]
            self.shown(link, body)
            link.tab.run("const a = document.querySelector('.a'); a.className = ''; a.offsetWidth; a.className = 'a';")
            screen = screen_of(link.glimpse())
            told = {name: named(screen, name).has(Flag.CUT) for name in ("Still", "Comes", "Turns")}
            self.assertEqual(told, {"Still": False, "Comes": True, "Turns": False})

        self.each(test)

    def test_what_stands_over_a_button_covers_it_however_small_both_are(self) -> None:
        body = """<div style="position:relative;width:120px;height:40px"><button style="width:100px;height:30px">Under</button>
<div style="position:absolute;inset:0;z-index:1"></div></div><button>Free</button>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, body)
            self.assertIsNotNone(reach(named(screen, "Under")).why)
            self.assertIsNone(reach(named(screen, "Free")).why)

        self.each(test)

    def test_roles_names_and_values(self) -> None:
        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, CONTROLS)
            for (role, name), text in TOLD.items():
                self.assertEqual(named(screen, name, role).text, text, (role, name))
            self.assertTrue(named(screen, "Cones set").has(Flag.CHECKED) and named(screen, "Fan").has(Flag.CHECKED))
            self.assertFalse(named(screen, "Never").has(Flag.ENABLED))
            self.assertTrue(named(screen, "Word").has(Flag.PASSWORD))
            self.assertEqual(screen.limits[named(screen, "Peak").row], (900.0, 1300.0))
            self.assertNotIn(b"secret", link.moment().tree)

        self.each(test)

    def test_what_a_component_is_called_and_what_two_buttons_count_tell_what_it_is(self) -> None:
        body = """<style>span { cursor: pointer } input { width: 40px }</style>
<x-button>Save</x-button><big-fab>+</big-fab><x-buttons>Both</x-buttons>
<p><span>-</span><input readonly value="2" aria-label="Pots"><span>+1</span></p>
<p><span>a</span><input value="3" aria-label="Lids"><span>b</span></p>
<x-list-item>Row one</x-list-item><button style="width:90px"><input type="radio" style="opacity:0;width:60px">Tall</button>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, body)
            told = {name: named(screen, name).role for name in ("Save", "+", "Both", "Pots", "Lids")}
            self.assertEqual(told, {"Save": "button", "+": "button", "Both": "text", "Pots": "spinbutton", "Lids": "textbox"})
            self.assertTrue(named(screen, "Save").has(Flag.CLICKABLE))
            self.assertEqual([e.role for e in screen if e.name == "Tall"][:2], ["button", "radio"])
            self.assertIn("listitem", screen.roles)

        self.each(test)

    def test_what_is_hidden_is_not_there_and_what_is_covered_says_by_what(self) -> None:
        body = """<button hidden>One</button><button style="display:none">Two</button><button style="visibility:hidden">Three</button>
<div inert><button>Four</button></div><div style="height:0;overflow:hidden"><button>Five</button></div>
<div aria-hidden="true"><button>Six</button></div>
<div style="position:fixed;top:0;left:0;right:0;height:60px;background:#fff;z-index:3"><h1>Bar</h1></div>
<button style="position:absolute;top:10px;left:10px">Under</button><button style="position:absolute;top:300px">Free</button>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, body)
            names = {e.name for e in screen if e.role == "button"}
            self.assertEqual(names, {"Under", "Free", "Four"})
            self.assertEqual(
                named(screen, "Four").screen.bits[named(screen, "Four").row] & (Flag.ENABLED | Flag.CLICKABLE), 0, "it is inert"
            )
            self.assertIn("Bar", reach(named(screen, "Under")).reason)
            self.assertEqual(reach(named(screen, "Free")).reason, "")

        self.each(test)

    def test_each_thing_is_read_once_and_is_where_it_is_painted(self) -> None:
        """Parts that stand over the page, one in another; heights that count within their own; what is fixed in what is moved."""
        body = """<style>.f{position:fixed;left:0;right:0} .a{position:absolute}</style><button>Below</button>
<div class="f" style="top:0;height:300px;z-index:5;background:#eee" role="dialog" aria-label="Outer"><button>First</button>
<div class="f" style="top:60px;height:120px;z-index:1;background:#ddd" role="dialog" aria-label="Inner"><button>Second</button>
<div class="f" style="top:90px;height:40px;z-index:9;background:#ccc"><button>Third</button></div></div></div>
<div class="f" style="bottom:0;height:50px;z-index:3;background:#fff"><button>Toast</button></div>
<div style="position:relative;top:310px;height:200px">
<div class="a" style="left:0;top:0;width:200px;height:200px;z-index:400;background:#bbb" onclick="1"><span>Tiles</span></div>
<div><div class="a" style="left:10px;top:90px;z-index:1000"><button>Zoom</button></div></div>
<div style="opacity:.99"><div class="a" style="left:10px;top:150px;z-index:9999"><button>Weak</button></div></div></div>
<div style="transform:translateX(20px);overflow:hidden;position:absolute;top:540px;height:60px;width:150px">
<div style="position:fixed;top:0;left:0;height:30px;width:300px;background:#abc"><button>Moved</button></div></div>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, body)
            names = [e.name for e in screen if e.role in ("button", "dialog")]
            self.assertEqual(
                sorted(names), sorted(["Below", "Outer", "First", "Inner", "Second", "Third", "Toast", "Zoom", "Weak", "Moved"])
            )
            tops = {name: next(screen.at(*named(screen, name).box.centre)).name for name in ("Third", "Second", "Zoom", "Toast", "Moved")}
            self.assertEqual(tops, {name: name for name in tops})
            self.assertNotEqual(next(screen.at(*named(screen, "Weak").box.centre)).name, "Weak", "its height counts within what is weak")
            self.assertIn("Tiles", reach(named(screen, "Weak")).reason)
            self.assertLess(named(screen, "Moved").box.bottom, 600)
            for element in screen:
                if element.role == "button" and reach(element).point is not None:
                    self.assertEqual(next(screen.at(*element.box.centre)), element)

        self.each(test)

    def test_a_wheel_is_a_choice_that_reads_what_is_in_its_middle(self) -> None:
        rows = "".join(f'<li style="height:40px;line-height:40px" role="button">{n}</li>' for n in ("Ash", "Celadon", "Shino", "Salt"))
        strip = f'<ul style="margin:0;padding:0;transform:translateY(40px)">{rows}</ul>'
        wheel = f'<p style="margin:4px">Glaze</p><div style="height:200px;overflow:hidden">{strip}</div>'
        list_ = f"""<h2>Glazes</h2><div style="height:100px;overflow:auto"><ul style="margin:0;padding:0">{rows}</ul></div>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, wheel)
            self.assertEqual((named(screen, "Glaze", "combobox").text, is_wheel(named(screen, "Glaze", "combobox"))), ("Celadon", True))
            self.assertEqual([e.name for e in screen if e.role == "option"], ["Ash", "Celadon", "Shino", "Salt"])
            self.assertNotIn("combobox", self.shown(link, list_).roles)

        self.each(test)

    def test_a_page_has_the_focus_when_it_is_touched_also_where_a_frame_had_it_before(self) -> None:
        """Without it, lists take a touch for one that leaves them, and close before anything in them is chosen."""
        framed = """<iframe srcdoc="<input autofocus>"></iframe>"""
        page = """<button onpointerdown="this.textContent = document.hasFocus()">Not yet</button>"""

        def test(link):  # type: ignore[no-untyped-def]
            self.shown(link, framed)
            link.tab.run("frames[0].document.querySelector('input').focus();")
            self.assertIn("true", tapped(link, named(self.shown(link, page), "Not yet")).names)

        self.each(test)

    def test_what_nobody_sees_is_not_read_and_names_come_from_the_same_layer(self) -> None:
        body = """<div style="position:relative"><select aria-label="Unseen" style="opacity:0;pointer-events:none"><option>A</select>
<div style="opacity:0">Faint words</div><div style="opacity:0;pointer-events:none"><p>Menu</p><button>Hidden</button></div>
<label><input type="checkbox" style="opacity:0;pointer-events:none;position:absolute">Drawn by its label</label></div>
<p>Kiln</p><div style="position:fixed;top:150px;left:0;width:300px;background:#fff">
<div role="radiogroup"><div role="radio" aria-checked="true" tabindex="0" style="width:30px;height:30px">
</div><div role="radio" aria-checked="true" tabindex="0" style="width:30px;height:30px"></div></div></div>
<div style="height:300px"></div><div style="width:300px;height:30px;position:relative"><div style="position:relative;height:30px">
<div role="slider" tabindex="0" aria-label="Low" aria-valuemin="0" aria-valuemax="8" aria-valuenow="2"
style="position:absolute;left:45px;width:30px;height:30px"></div><div role="slider" tabindex="0" aria-label="High" aria-valuemin="2"
aria-valuemax="10" aria-valuenow="8" style="position:absolute;left:225px;width:30px;height:30px"></div></div></div>
<div id="board" style="width:200px;height:120px"><div><canvas width="200" height="120"></canvas></div></div>
<ul><li>Alder<span style="cursor:grab;display:inline-block;width:30px;height:20px"></span></li></ul>
<p>Peak <input type="range" aria-label="Heat"></p><div role="radiogroup" style="width:60px;height:20px"></div>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, body)
            self.assertFalse({"Unseen", "Faint words", "Menu", "Hidden"} & set(screen.names))
            self.assertEqual(named(screen, "Drawn by its label").role, "checkbox")
            self.assertEqual([e.name for e in screen if e.role == "radio"], ["1", "2"])
            self.assertEqual(
                reads([e for e in screen if e.role == "radiogroup"][-1]), "2", "all stars of a rating are chosen up to its own"
            )
            for name in ("Low", "High"):
                self.assertEqual(screen.limits[named(screen, name).row], (0.0, 10.0), name)
            self.assertEqual(next(e.id for e in screen if e.role == "canvas"), "board")
            self.assertTrue(any(e.role == "img" and e.within(named(screen, "Alder", "listitem")) for e in screen), "it is carried by that")
            self.assertEqual([e.name for e in screen if e.role == "radiogroup"], ["", ""], "“Peak” has a control of its own")

        self.each(test)

    def test_words_in_a_slot_and_a_label_hand_a_touch_on_to_their_control(self) -> None:
        body = """<x-b>Save it</x-b><x-s>Cones set</x-s><script>
customElements.define("x-b", class extends HTMLElement { constructor() { super(); this.attachShadow({ mode: "open" }).innerHTML =
  "<button style='width:200px;height:50px'><span><slot></slot></span></button>"; } });
customElements.define("x-s", class extends HTMLElement { constructor() { super(); this.attachShadow({ mode: "open" }).innerHTML =
  "<label style='display:block;width:200px;height:50px'><input type=checkbox role=switch><span><slot></slot></span></label>"; } });
</script>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, body)
            for role, name in (("button", "Save it"), ("switch", "Cones set")):
                x, y = named(screen, name, role).box.centre
                hit = meant_by_hit(link.hit(x, y), x, y)
                self.assertEqual(hit and (hit.role, hit.name), (role, name))

        self.each(test)

    def test_a_dialog_at_the_side_is_in_nobodys_way_and_of_two_the_upper_one_is(self) -> None:
        body = """<button>Save</button>
<div role="dialog" aria-label="Help" style="position:fixed;bottom:0;width:300px;height:60px">Ask us</div>
<div role="dialog" aria-label="Ask" style="position:fixed;inset:0;z-index:%d;display:%s;background:#fff"><button>Yes</button></div>
<div role="dialog" aria-label="Sure" style="position:fixed;top:0;left:0;width:200px;height:90px;z-index:%d;display:%s">Sure?</div>"""

        def test(link):  # type: ignore[no-untyped-def]
            for shown, heights, name in (("none", (1, 2), ""), ("block", (1, 2), "Sure"), ("block", (2, 1), "Ask")):
                screen = self.shown(link, body % (heights[0], shown, heights[1], shown))
                plate = plate_over(screen)
                self.assertEqual(plate.name if plate is not None else "", name)

        self.each(test)

    def test_a_choice_within_a_frame_is_chosen_and_the_page_is_told(self) -> None:
        inner = """<body style="margin:0"><p style="height:300px">Far</p>
<select aria-label="Glaze" onchange="parent.document.title=this.value">
<option>Ash<option>Shino<option disabled>None</select> <input type="date" aria-label="Day" onchange="parent.document.title=this.value">"""
        (self.folder / "inner.html").write_text(inner, "utf-8")

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, '<iframe src="inner.html" style="width:300px;height:400px"></iframe>')
            offered = tapped(link, named(screen, "Glaze", "combobox"))
            screen = tapped(link, named(offered, "Shino"))
            self.assertEqual((screen.names[1], named(screen, "Glaze", "combobox").text), ("Shino", "Shino"))
            offered = tapped(link, named(screen, "Glaze", "combobox"))
            link.touch([tap(*named(offered, "Ash").box.centre)])
            self.assertEqual(screen_of(link.moment()).names[1], "Ash")

        self.each(test)

    def test_shadow_roots_slots_and_frames_are_part_of_the_page(self) -> None:
        (self.folder / "inner.html").write_text('<body style="margin:0"><button style="height:40px">Inside</button>', "utf-8")
        body = """<my-card><span slot="words">Slotted</span></my-card>
<iframe src="inner.html" title="Frame" width="300" height="100"></iframe>
<iframe srcdoc="<button>Shut</button>" sandbox title="Closed" width="200" height="80"></iframe>
<script>customElements.define("my-card", class extends HTMLElement { connectedCallback() {
  this.attachShadow({mode: "open"}).innerHTML = '<button>In the shadow</button><slot name="words"></slot>';
  this.shadowRoot.firstChild.onclick = () => { document.title = "touched"; };
} });</script>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, body)
            for name in ("In the shadow", "Slotted", "Inside", "Closed"):
                self.assertEqual(reach(named(screen, name)).reason, "", name)
            self.assertNotIn("Shut", screen.names)
            frame, inside = named(screen, "Frame", "document").box, named(screen, "Inside").box
            self.assertTrue(frame.contains(*inside.centre), (frame, inside))
            self.assertEqual(named(tapped(link, named(screen, "In the shadow")), "touched").role, "document")

        self.each(test)

    def test_slotted_words_stand_where_they_are_drawn_and_float_labels_name_their_fields(self) -> None:
        body = """<w-chip>Bees</w-chip><w-box>Kiln nine</w-box><w-field>Weight in kg</w-field>
<div style="position:relative;margin-top:30px;height:50px">
<span style="position:absolute;left:12px;top:14px;pointer-events:none">City</span>
<input style="width:200px;height:48px"></div><nav><button aria-label="Share">s</button></nav>
<input placeholder="Search" style="margin-top:4px">
<script>const INSIDE = {"w-chip": "<slot></slot>", "w-box": "<b>Box</b><slot style='display:block'></slot>",
"w-field": "<label><div><slot></slot></div><input></label>"};
for (const name in INSIDE) customElements.define(name, class extends HTMLElement {
  connectedCallback() { this.attachShadow({mode: "open"}).innerHTML = INSIDE[name]; } });</script>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, body)
            self.assertEqual(
                [t for t in screen.texts if t in ("Bees", "Kiln nine", "Box", "Box Kiln nine", "BoxKiln nine")],
                ["Bees", "Box", "Kiln nine"],
            )
            self.assertEqual([e.name for e in screen if e.role == "textbox"], ["Weight in kg", "City", "Search"])

        self.each(test)

    def test_containers_say_how_far_they_are_scrolled_and_cut_what_is_in_them(self) -> None:
        rows = "".join(f"<li style='height:50px'>Row {n}</li>" for n in range(40))
        body = f"""<ul aria-label='Rows' style='height:300px;overflow:auto;margin:0'>{rows}</ul>
<script>document.querySelector('ul').scrollTop=120</script>"""

        def test(link):  # type: ignore[no-untyped-def]
            screen = self.shown(link, body)
            rows = named(screen, "Rows", "list")
            self.assertTrue(rows.has(Flag.SCROLLABLE))
            self.assertAlmostEqual(screen.scrolled[rows.row], 120, delta=1)
            self.assertTrue(all(e.box.bottom <= rows.box.bottom + 1 for e in screen if e.role == "listitem"))
            self.assertNotIn("Row 20", screen.names)

        self.each(test)

    def test_what_bars_stand_over_lies_under_them_and_a_message_is_one(self) -> None:
        lines = "".join(f"<p style='height:40px;margin:0'>Line {n}</p>" for n in range(40))
        body = """<body style="margin:0;height:900px;position:relative">
<style>.bar { left:0; width:100%%; height:60px; background:#eee; z-index:2 }
</style><div class="bar" style="position:fixed;top:0"><h1>Bar</h1></div>
<div style="height:880px;overflow:auto;position:relative"><p role="status">It passes</p>%s
<b style="position:absolute;top:130px;z-index:3">Along</b></div>
<div class="bar" style="position:absolute;bottom:0;pointer-events:%s"><a href="#">Foot</a></div>"""

        def test(link):  # type: ignore[no-untyped-def]
            for pointed in ("auto", "none"):
                screen = self.shown(link, body % (lines, pointed))
                under = [e.name for e in screen if e.name.startswith("Line") and lies_under(e)]
                self.assertEqual((under[0], len(under) > 1), ("Line 0", pointed == "auto"), under)
                self.assertFalse({"Line 1", "Line 2", "Line 12"} & {*under}, "what is scrolled along with it does not")
                self.assertFalse(any(lies_under(named(screen, name)) for name in ("Foot", "Bar", "Along")))
                self.assertEqual([called_message(named(screen, name)) for name in ("It passes", "Line 3")], [True, False])

        self.each(test)

    def test_words_that_go_on_in_the_next_line_are_where_most_of_them_are(self) -> None:
        body = """<p style="width:240px;font-size:16px">The kiln was lit
<a href="#a" onclick="document.title='hit'">early in the morning before
anybody else was up</a> and <b id="w">nobody heard</b> of it until noon.</p>"""

        def test(link):  # type: ignore[no-untyped-def]
            link_ = named(self.shown(link, body), "early in the morning before anybody else was up", "link")
            self.assertLess(link_.box.height, 30, "one line of it")
            tapped(link, link_)
            self.assertEqual(screen_of(link.moment()).names[1], "hit")

        self.each(test)

    def test_the_order_of_the_focus_is_told_layer_by_layer_and_where_it_leaves_the_reading(self) -> None:
        body = """<nav style="position:fixed;bottom:0;height:60px;z-index:2"><button>Home</button><button>More</button></nav>
<p><button>First</button></p><p><input aria-label="Load" value="secret"></p><my-knob></my-knob>
<p style="display:flex;flex-direction:%s"><button>Second</button><button>Third</button></p><p><button disabled>Never</button></p>
<p><button tabindex="-1">Passed</button></p><p><textarea aria-label="Notes" tabindex="%d"></textarea></p>
<script>customElements.define("my-knob", class extends HTMLElement { connectedCallback() {
  this.attachShadow({mode: "open"}).innerHTML = "<button>In the shadow</button>"; } });</script>"""
        usual = ["First", "Load", "In the shadow", "Second", "Third", "Notes"]

        def test(link):  # type: ignore[no-untyped-def]
            for direction, tabindex, order, expected in (
                ("row", 0, usual, {}),
                ("row", 1, ["Notes", *usual[:-1]], {"Notes": "before “First”"}),
                ("row-reverse", 0, usual, {"Second": "before “Third”"}),
            ):
                screen = self.shown(link, body % (direction, tabindex))
                self.assertEqual([[screen.names[row] for row in layer] for layer in screen.stops], [order, ["Home", "More"]])
                view = Viewer(link.profile(), {}, {}).view(Showing(link.moment()))
                self.assertEqual({e.name: e.jump for e in view.elements if e.jump}, expected)
                self.assertNotIn("secret", repr(view))

        self.each(test)


class Answers(BrowserCase):
    def test_what_is_no_answer_of_the_script_is_no_screen(self) -> None:
        row = '[-1,"generic","","","","",0,0,9,9,8,-1,"",0,null]'
        page = '{"url":"u","title":"t","width":9,"height":9,"pixels":1,"ready":"complete","moving":false,"touch":1,"rows":[%s]}'
        self.assertEqual(len(read_page(page % row).screen), 1)
        bad = ("", "[]", "null", page % "", page % row.replace("-1", "7", 1), page % row.replace("0,0,9,9", '0,"x",9,9'), "[" * 100_000)
        for told in (*bad, page % ",".join([row, *[row.replace("-1", "0", 1)] * 12_001])):
            with self.assertRaises(TreeUnreadable, msg=told[:40]):
                read_page(told)
        strange = read_page(page % row.replace('"generic"', '"<script>"').replace("0,0,9,9", "1e308,-1e308,5,5")).screen
        self.assertEqual((strange.roles[0], strange.boxes[0, 0] <= 1e6), ("generic", True))
        stops = read_page((page % row)[:-1] + ',"stops":[[0,0,7,-1],[]]}').screen.stops
        self.assertEqual(stops, ((0,),), "rows that are not there are no stops")
