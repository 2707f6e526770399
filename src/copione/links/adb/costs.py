"""What an app costs an Android phone, from the tools of its shell."""

from __future__ import annotations

import re

from ...model.cost import Cost

TICKS = 100  # a second: the unit of /proc/PID/stat, the same on every Android
_MEMORY = re.compile(r"^\s{0,40}TOTAL(?: PSS)?:?\s{1,20}([\d,]{1,12})\b", re.M)
_STAT = re.compile(r"^\d{1,10} \([^\n]{0,80}\) \S(?: -?\d{1,20}){10} (\d{1,15}) (\d{1,15}) ", re.M)
_FRAMES = re.compile(r"Total frames rendered: (\d{1,12})")
_LATE = re.compile(r"Janky frames: (\d{1,12})")
_NET = re.compile(r"^\s{0,20}(\w[\w.@-]{0,30}):\s{0,20}(\d{1,19})(?:\s{1,20}\d{1,19}){7}\s{1,20}(\d{1,19})\b", re.M)
_LEVEL = re.compile(r"^\s{1,8}level: (\d{1,3})\b", re.M)
_WARMTH = re.compile(r"^\s{1,8}temperature: (-?\d{1,4})\b", re.M)


def command(pid: str, package: str) -> str:
    """The commands whose answers `read` reads; `package` quoted."""
    return f"cat /proc/{pid}/stat; dumpsys meminfo {package}; dumpsys gfxinfo {package}; cat /proc/net/dev; dumpsys battery"


def read(said: str, at: float) -> Cost:
    """What those commands said."""
    memory, stat, frames, late = (pattern.search(said) for pattern in (_MEMORY, _STAT, _FRAMES, _LATE))
    ways = [(int(came), int(went)) for name, came, went in _NET.findall(said) if name != "lo"]
    level, warmth = _LEVEL.search(said), _WARMTH.search(said)
    return Cost(
        at,
        memory_kb=int(memory[1].replace(",", "")) if memory and memory[1].strip(",") else None,
        cpu_s=(int(stat[1]) + int(stat[2])) / TICKS if stat else None,
        frames=int(frames[1]) if frames else None,
        late=int(late[1]) if late else None,
        received=sum(came for came, _ in ways) if ways else None,
        sent=sum(went for _, went in ways) if ways else None,
        battery=int(level[1]) if level else None,
        warmth=int(warmth[1]) / 10 if warmth else None,
    )
