import socket
import threading
from concurrent.futures import wait
from unittest import mock
from unittest.mock import patch

from copione.links.adb.link import AdbLink
from copione.links.adb.server import DEFAULT_PORT, AdbServer, Output
from copione.links.bench import Bench
from copione.links.worker import DeviceWorker
from copione.model.device import Readiness
from copione.model.errors import CopioneError, DeviceGone, DeviceNotReady, LinkError, NoServer

from ..benches import SERIALS, LabCase


class Trouble(LabCase):
    def test_the_port_that_a_server_is_looked_for_at(self) -> None:
        self.assertEqual((DEFAULT_PORT, AdbServer().port), (5037, 5037))

    def test_no_server_at_the_port(self) -> None:
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        with self.assertRaises(NoServer) as caught:
            AdbServer(port=port).devices()
        self.assertEqual(caught.exception.sentence, f"No adb server answers at 127.0.0.1:{port}.")

    def test_something_else_at_the_port(self) -> None:
        with socket.create_server(("127.0.0.1", 0)) as listener:

            def answer() -> None:
                connection, _ = listener.accept()
                connection.recv(100)
                connection.sendall(b"HTTP/1.1 400 Bad Request\r\n\r\n")
                connection.close()

            thread = threading.Thread(target=answer)
            thread.start()
            with self.assertRaises(LinkError) as caught:
                AdbServer(port=listener.getsockname()[1]).version()
            thread.join()
        self.assertIn("is not an adb server", caught.exception.sentence)

    def test_a_phone_that_says_nothing(self) -> None:
        with socket.create_server(("127.0.0.1", 0)) as listener, self.assertRaises(LinkError) as caught:
            AdbServer(port=listener.getsockname()[1], patience=0.05).version()
        self.assertIn("no whole answer for 0.05 s", caught.exception.sentence)

    def test_each_state_says_what_to_do(self) -> None:
        table = {"unauthorized": (Readiness.UNAPPROVED, "approve"), "offline": (Readiness.OFFLINE, "Unplug the cable")}
        link = self.link("Alder 5")
        for state, (readiness, words) in table.items():
            self.lab.set_state(SERIALS["Alder 5"], state)
            listed = next(d for d in self.server.devices() if d.address == SERIALS["Alder 5"])
            self.assertIs(listed.readiness, readiness)
            self.assertIn(words, listed.advice)
            with self.assertRaises(DeviceNotReady) as caught:
                link.picture()
            self.assertIn(words, caught.exception.sentence)
        self.lab.unplug(SERIALS["Alder 5"])
        with self.assertRaises(DeviceGone):
            link.picture()

    def test_a_tree_that_fails_leaves_the_picture_and_the_reason(self) -> None:
        link = self.link("Alder 5")
        for broken, words in ((b"ERROR: could not get idle state.\n", "idle state"), (b"<hierarchy><node></hierarchy>", "not well-formed")):
            self.lab.failing_dumps[SERIALS["Alder 5"]] = broken
            moment = link.moment()
            self.assertIsNone(moment.screen)
            self.assertIn(words, moment.trouble)
            self.assertTrue(moment.png)
        self.lab.failing_dumps[SERIALS["Alder 5"]] = b"ERROR: could not get idle state.\n"
        with patch.object(link.server, "execute", wraps=link.server.execute) as sent:
            link.moment()
        asked = [call.args[1] for call in sent.call_args_list]
        self.assertEqual(asked.count("screencap -p"), 1, "no picture is made beside a tree that is not there")
        del self.lab.failing_dumps[SERIALS["Alder 5"]]
        self.assertIsNotNone(link.moment().screen)

    def test_the_bench_follows_what_is_plugged_and_unplugged(self) -> None:
        bench = Bench(self.server)
        self.addCleanup(bench.close)
        seen = threading.Condition()
        states: list[dict[str, bool]] = []

        def changed(devices: list[object], trouble: str) -> None:
            with seen:
                states.append({d.name: d.ready for d in devices} if not trouble else {"trouble": True})
                seen.notify_all()

        def wait_for(state: dict[str, bool]) -> None:
            with seen:
                self.assertTrue(seen.wait_for(lambda: state in states, 10), states)

        bench.changed = changed
        bench.watch()
        wait_for({"Alder 5": True, "Wren mini": True, "Plateau 10": True})
        self.lab.unplug(SERIALS["Wren mini"])
        wait_for({"Alder 5": True, "Plateau 10": True})
        self.lab.set_state(SERIALS["Alder 5"], "unauthorized")
        wait_for({SERIALS["Alder 5"]: False, "Plateau 10": True})
        self.face.close()
        wait_for({"trouble": True})

    def test_a_device_that_is_being_opened_while_the_bench_closes_is_let_go_of(self) -> None:
        opening, closing, closed = threading.Event(), threading.Event(), []
        real = AdbLink.profile

        def slow(link: AdbLink) -> object:
            found = real(link)
            opening.set()
            closing.wait(10)
            return found

        with patch.object(AdbLink, "profile", slow), patch.object(AdbLink, "close", lambda link: closed.append(link.serial)):
            bench = Bench(self.server)
            looking = threading.Thread(target=bench.look)
            looking.start()
            opening.wait(10)
            bench.close()
            closing.set()
            looking.join()
            for thread in [t for t in threading.enumerate() if t.name.startswith("device ")]:
                thread.join(10)
        self.assertEqual((sorted(closed), bench.devices()), (sorted(SERIALS.values()), []))


class Refusals(LabCase):
    def test_what_a_phone_says_of_a_command_wherever_it_says_it(self) -> None:
        link = self.link("Alder 5")
        for out, said in (
            (Output(b"", b"no such file", 1), "no such file"),
            (Output(b"denied", b"", 1), "denied"),
            (Output(b"", b"", 7), "exit code 7"),
        ):
            with mock.patch.object(link, "_run", return_value=out), self.assertRaises(LinkError) as caught:
                link._shell("ls /nowhere")
            self.assertEqual(caught.exception.sentence, f"The phone LABALDER5 refused `ls`: {said}")


class Workers(LabCase):
    def test_jobs_come_in_order_and_errors_in_their_futures(self) -> None:
        worker = DeviceWorker("Alder 5", self.link("Alder 5"))
        done: list[int] = []
        futures = [worker.submit(lambda link, i=i: done.append(i)) for i in range(50)]
        failed = worker.submit(lambda link: link.launch("org.nowhere"))
        self.assertIsInstance(failed.exception(10), CopioneError)
        self.assertEqual(done, list(range(50)))
        self.assertTrue(all(f.done() for f in futures))
        begun, free = threading.Event(), threading.Event()
        running = worker.submit(lambda link: (begun.set(), free.wait(10)))
        waiting = [worker.submit(lambda link: done.append(99)) for _ in range(3)]
        begun.wait(10)
        worker.close(0.0)
        free.set()
        self.assertTrue(running.result(10)[1])
        self.assertEqual(wait(waiting, 10).not_done, set(), "whoever waits hears of it")
        self.assertTrue(all(future.cancelled() for future in waiting), "what had not begun is not done any more")
        self.assertNotIn(99, done)
        self.assertTrue(worker.submit(lambda link: None).cancelled())
