"""The lab as a process of its own, for as long as it is wanted."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path
from types import TracebackType

from .model import SHIPPED, faults_folder, load_faults, load_models

END_S = 10.0  # from when on it is not waited for any more


class LabProcess:
    """Starts `python -m copione_lab`; `.port` is where its adb server listens. It ends with the parent.

    Raises ValueError for a folder of models or faults that cannot be used, with what is wrong in it.
    """

    def __init__(
        self,
        port: int = 0,
        pace: str = "brisk",
        faults: str | None = None,
        models: Sequence[str] = (),
        hand: str | None = None,
        build: str = "2.4",
    ) -> None:
        known = load_models(SHIPPED / "models", *map(Path, models))
        load_faults(faults_folder(faults), known)
        command = [sys.executable, "-m", "copione_lab", "--tied", "--port", str(port), "--pace", pace]
        if faults:
            command += ["--faults", faults]
        command += ["--build", build]
        if hand:
            command += ["--hand", hand]
        for folder in models:
            command += ["--models", folder]
        # in a session of its own: Ctrl+C is for whoever started it, which may still have to put its phones back
        self._process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, start_new_session=True)
        assert self._process.stdout is not None
        line = self._process.stdout.readline()
        if not line:
            raise RuntimeError("The lab did not start.")
        facts = json.loads(line)
        self.port = int(facts["port"])
        self.phones: list[str] = facts["phones"]
        self.endpoints: list[str] = facts["endpoints"]
        self.control: str = facts["control"]  # its port and the token that it wants
        self.daemons: dict[str, int] = facts["daemons"]

    def wait(self) -> int:
        """Until it ends by itself: a hand's window was closed."""
        return self._process.wait()

    def close(self) -> None:
        """It ends by itself once nobody speaks to it; where it does not, it is ended."""
        if self._process.stdin:
            self._process.stdin.close()
        try:
            self._process.wait(END_S)
        except subprocess.TimeoutExpired:
            self._process.kill()
            self._process.wait()
        if self._process.stdout:
            self._process.stdout.close()

    def __enter__(self) -> LabProcess:
        return self

    def __exit__(self, _kind: type[BaseException] | None, _error: BaseException | None, _trace: TracebackType | None) -> None:
        self.close()
