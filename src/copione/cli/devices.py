"""Commands about devices: what is connected, and where else to look."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from .bench import DeviceSources, choose, open_bench, server_options
from .terminal import json_text, tell

if TYPE_CHECKING:
    from ..links.bench import Device


@click.command()
@click.option("--lab", is_flag=True, help="List the stand-in phones instead.")
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object per device.")
@server_options
def devices(where: DeviceSources, as_json: bool) -> None:
    """List connected devices, and say how to fix those that are not ready."""
    with open_bench(where, offer=not as_json) as bench:
        found = bench.look()
    if as_json:
        for device in found:
            click.echo(json_text(_device_facts(device)))
        return
    if not found:
        click.echo("No device is connected. Turn on USB debugging on the phone, plug it in, and approve this computer on its screen.")
        return
    for device in found:
        profile = device.profile
        if profile is not None:
            tell(
                f"{device.name}: {profile.system}, {profile.width:.0f} x {profile.height:.0f} dp, "
                f"text {profile.text_scale:.0%}, {profile.locale}"
            )
        else:
            tell(f"{device.name}: {device.trouble or device.listed.readiness.value + '. ' + device.listed.advice}")


def _device_facts(device: Device) -> dict[str, Any]:
    facts: dict[str, Any] = {
        "device": device.name,
        "state": device.listed.readiness.value,
        "advice": device.trouble or device.listed.advice,
    }
    if device.profile is not None:
        p = device.profile
        facts |= {"platform": p.platform, "release": p.release, "width_dp": p.width, "height_dp": p.height}
        facts |= {"text_scale": p.text_scale, "locale": p.locale}
    return facts


@click.group(invoke_without_command=True)
@click.pass_context
def endpoints(context: click.Context) -> None:
    """The WebDriver endpoints where Copione looks for devices: list them, add, try and remove them."""
    if context.invoked_subcommand is not None:
        return
    from ..links.endpoints import kept

    found = kept()
    for each in found:
        facts = [each.url] * bool(each.name) + [f"dialect {each.dialect}"] * bool(each.dialect) + [f"as {each.user}"] * bool(each.user)
        facts += [] if each.active else ["not used"]
        tell(f"{each.called}{': ' if facts else ''}{', '.join(facts)}")
    if not found:
        click.echo("No endpoint is kept. Add one: copione endpoints add URL")


@endpoints.command("add")
@click.argument("url")
@click.option("--name", default="", help="What to call it; several configurations of one address need names.")
@click.option("--dialect", default="", help="The dialect it speaks; by default Copione goes by what the session tells.")
@click.option("--user", default="", help="Who signs in. The password is asked for, and kept in the desktop's keyring.")
@click.option("--capabilities", metavar="JSON", default="", help="What a session must have: JSON, or @FILE.")
@click.option("--header", "headers", metavar="NAME=VALUE", multiple=True, help="Sent with every request; repeat for more.")
@click.option("--certificate", type=click.Path(dir_okay=False), default="", help="A file of certificates that are trusted besides.")
@click.option("--proxy", metavar="URL", default="", help="An HTTP proxy to go through.")
@click.option("--seconds", type=float, default=0.0, help="How long one command may take, in place of the usual time.")
def add_endpoint(url: str, user: str, capabilities: str, headers: tuple[str, ...], **facts: Any) -> None:
    """Add the endpoint at URL, or replace the one of that name."""
    from ..links.endpoints import called, checked, remember

    told: dict[str, Any] = {name: value for name, value in facts.items() if value} | ({"user": user} if user else {})
    if capabilities:
        told["capabilities"] = _json_object(capabilities)
    if headers:
        told["headers"] = dict(each.partition("=")[::2] for each in headers)
    remember(url, **told)
    if user:
        _sign_in(checked(url), user)
    tell(f"{called(told.get('name') or checked(url)).called} is kept.")


def _json_object(words: str) -> dict[str, Any]:
    import json

    from ..files.reading import FileKind, read_text

    text = read_text(Path(words[1:]), FileKind.SETTINGS) if words.startswith("@") else words
    try:
        found = json.loads(text)
    except ValueError as error:
        raise click.BadParameter(f"This is not JSON: {error}.", param_hint="--capabilities") from error
    if not isinstance(found, dict):
        raise click.BadParameter("Capabilities are a JSON object.", param_hint="--capabilities")
    return found


def _sign_in(url: str, user: str) -> None:
    from ..links.webdriver.passwords import keep

    password = click.prompt(f"Password of {user}", hide_input=True, default="", show_default=False)
    tell(f"The password is kept in {keep(url, user, password)}.")


@endpoints.command("sign-in")
@click.argument("name")
@click.option("--user", default="", help="Another user than the one that is kept.")
def sign_in(name: str, user: str) -> None:
    """Give the password of the endpoint called NAME."""
    import msgspec

    from ..links.endpoints import called, remember

    spec = called(name)
    if user and user != spec.user:
        remember(**(msgspec.to_builtins(spec) | {"user": user}))
        spec = called(name)
    if not spec.user:
        raise click.UsageError("Say who signs in: --user NAME.")
    _sign_in(spec.url, spec.user)


@endpoints.command("show")
@click.argument("name")
def show_endpoint(name: str) -> None:
    """Print all that is kept of the endpoint called NAME, as JSON. Its password is not among that."""
    import msgspec

    from ..links.endpoints import called

    click.echo(json_text(msgspec.to_builtins(called(name))))


@endpoints.command("copy")
@click.argument("name")
@click.argument("new")
def copy_endpoint(name: str, new: str) -> None:
    """Keep the configuration called NAME once more, under NEW; it is the one that is used from now on."""
    import msgspec

    from ..links.endpoints import called, remember

    remember(**(msgspec.to_builtins(called(name)) | {"name": new, "active": True}))
    tell(f"{new} is kept.")


@endpoints.command("use")
@click.argument("name")
def use_endpoint(name: str) -> None:
    """Use the configuration called NAME, of several with its address."""
    from ..links.endpoints import use

    use(name)
    tell(f"{name} is used.")


@endpoints.command("remove")
@click.argument("name")
def remove_endpoint(name: str) -> None:
    """Remove the endpoint called NAME, and its password."""
    from ..links.endpoints import called, forget
    from ..links.webdriver.passwords import keep

    spec = called(name)
    forget(name)
    if spec.user:
        keep(spec.url, spec.user, "")
    tell(f"{spec.called} is not kept any more.")


@endpoints.command("test")
@click.argument("name")
@click.pass_context
def try_endpoint(context: click.Context, name: str) -> None:
    """Try the endpoint called NAME, or at that address, step by step from its name to its glass. Exits with 1 where one fails."""
    from ..links.endpoints import called, checked, kept, spec_of
    from ..links.webdriver.examining import examine

    known = any(name in (each.name, each.url, each.url.rstrip("/")) for each in kept())
    fine = True
    for each in examine(called(name) if known else spec_of(checked(name))):
        fine = each.fine
        tell(f"{'fine   ' if fine else 'FAILED '} {each.step}: {each.words}")
    context.exit(0 if fine else 1)


@click.command()
@click.option("--from", "file", type=click.Path(path_type=Path, dir_okay=False), help="The browsers of this file, instead of yours.")
def browsers(file: Path | None) -> None:
    """The browsers that can be devices, which engines are installed, and what to install where one is missing."""
    from ..links.browser.engines import ENGINES, installed
    from ..links.browser.kept import settings_file, wanted

    found = {word: installed(engine) for word, engine in ENGINES.items()}
    for each in found.values():
        if each.missing:
            tell(f"{each.engine.name}: {each.missing}. {each.advice}")
        else:
            pointer = "fingers" if each.engine.touch else "a mouse for a finger"
            tell(f"{each.engine.name}: {each.browser}, driven by {each.driver}; {pointer}.")
    click.echo()
    for browser in wanted(file):
        state = "ready" if browser.endpoint or not found[browser.engine].missing else "its engine is missing"
        facts = [f"{browser.width} x {browser.height} dp", f"text {browser.text:.0%}", browser.language]
        facts += ["dark"] * browser.dark + ["in sight"] * browser.shown + [f"at {browser.endpoint}"] * bool(browser.endpoint)
        tell(f"{browser.name}: {', '.join(facts)}; {state}")
    if file is None:
        click.echo(f"\nOther sizes and languages: a file {settings_file()} stands for these. Start them with --browsers.")


@click.command()
@click.argument("address", required=False)
@click.option("--code", default="", help="Pair first: the code that the phone shows, with --pair-at.")
@click.option("--pair-at", "pairing", default="", metavar="ADDRESS", help="The address that the phone shows beside the code.")
@click.option("--adb", metavar="HOST:PORT", help="The adb server's address (default: this computer's).")
def connect(address: str | None, code: str, pairing: str, adb: str | None) -> None:
    """Connect a phone without a cable, at the ADDRESS that its wireless debugging shows. Without one: list those in the local network."""
    from ..links.adb import wireless
    from ..links.adb.server import AdbServer
    from .bench import server_address

    server = AdbServer(*server_address(adb))
    if code or pairing:
        if not (code and pairing):
            raise click.UsageError("Pairing takes both: --pair-at ADDRESS --code CODE, as the phone shows them.")
        wireless.pair(server, pairing, code)
        tell(f"{pairing} is paired.")
    if address:
        wireless.connect(server, address)
        tell(f"{address} is connected.")
    elif not code:
        found = wireless.nearby(server)
        for each in found:
            tell(f"{each.name}: {'wants to be paired' if each.pairs else 'can be connected'} at {each.address}")
        if not found:
            click.echo("No phone with wireless debugging is found. Turn it on under Developer options, in the same network.")


@click.command("phone-check")
@click.option("--on", "name", metavar="NAME", required=True, help="The device, by its name or address.")
@click.option("--lab", is_flag=True, help="Use stand-in phones started for this command.")
@click.option("--to", "path", type=click.Path(path_type=Path, dir_okay=False), default=None, help="The file (default: phone-check.txt).")
@server_options
def check_phone(where: DeviceSources, name: str, path: Path | None) -> None:
    """Ask a phone once for everything Copione ever asks, and write the results to a file that you can send.

    The phone is not touched. The file has counts, sizes, times and errors, and no text from the screen.
    """
    from ..engine.phone_check import phone_check
    from ..files.writing import write_whole
    from ..links.holding import held
    from ..links.link import Link

    def ask(link: Link) -> str:
        with held(link, "checking what it answers"):
            return phone_check(link, tell)

    file = path or Path("phone-check.txt")
    with open_bench(where) as bench:
        (device,) = choose(bench.look(), [name])[:1]
        assert device.worker is not None
        said = device.worker.submit(ask).result()
    write_whole(file, said.encode())
    tell(f"Kept in {file}. Read it before you send it.")
