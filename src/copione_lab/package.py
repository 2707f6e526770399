"""App packages of the lab: a zip with `app.json` in it, `{"package": ..., "version": ...}`. Made up; no phone takes them."""

from __future__ import annotations

import io
import json
import zipfile


def pack(package: str, version: str) -> bytes:
    """A package file for one build of an app."""
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w") as archive:
        archive.writestr(zipfile.ZipInfo("app.json"), json.dumps({"package": package, "version": version}))
    return data.getvalue()


def order(version: str) -> tuple[int, ...]:
    """What tells an older version from a newer one."""
    return tuple(int(part) for part in version.split(".") if part.isdigit())


def unpack(data: bytes) -> tuple[str, str]:
    """Package and version of a package file. Raises ValueError for anything else."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            facts = json.loads(archive.read("app.json"))
        return str(facts["package"]), str(facts["version"])
    except (zipfile.BadZipFile, KeyError, ValueError) as error:
        raise ValueError("Failed to parse the package") from error
