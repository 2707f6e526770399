"""Commands about devices: what is connected, and where else to look."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import click

from .bench import open_bench, server_options
from .terminal import json_text, tell

if TYPE_CHECKING:
    from ..links.bench import Device


@click.command()
@click.option("--lab", is_flag=True, help="List the stand-in phones.")
@click.option("--json", "as_json", is_flag=True, help="One JSON object a line.")
@server_options
def devices(lab: bool, as_json: bool, adb: str | None, endpoints: tuple[str, ...], faults: str | None) -> None:
    """What is connected, and what to do about what is not ready."""
    with open_bench(lab, adb, endpoints, faults, offer=not as_json) as bench:
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
@click.option("--add", metavar="URL", help="Look for a device there from now on.")
@click.option("--forget", metavar="URL", help="Do not look there any more.")
def endpoints(add: str | None, forget: str | None) -> None:
    """The WebDriver endpoints where devices are looked for."""
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
