"""Commands about devices: what is connected, and where else to look."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from .bench import DeviceSources, open_bench, server_options
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


@click.command()
@click.option("--add", metavar="URL", help="Add an endpoint.")
@click.option("--forget", metavar="URL", help="Remove an endpoint.")
def endpoints(add: str | None, forget: str | None) -> None:
    """List the WebDriver endpoints where Copione looks for devices."""
    from ..links import endpoints as kept

    found = kept.remembered()
    if add:
        found = kept.remember(add)
    if forget:
        found = kept.forget(forget)
    for url in found:
        tell(url)
    if not found:
        click.echo("No endpoint is kept. Give one with --add URL.")


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
