"""Every error a user may see: a sentence that says what happened and what to do, and the facts."""

from __future__ import annotations


class CopioneError(Exception):
    """Base of all. `sentence` is shown as it is; `facts` go to logs and reports."""

    def __init__(self, sentence: str, **facts: object) -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.facts = facts


class LinkError(CopioneError):
    """A device could not be reached or did not do what was asked."""


class CannotDo(LinkError):
    """There is no way to have the device do what was asked, today or tomorrow: a limit of its own or of how it is reached."""


class NotPaired(LinkError):
    """A phone without a cable could not be paired or connected."""


class NoServer(LinkError):
    """Nothing answers where the devices should be listed."""


class DeviceGone(LinkError):
    """The device was there and is not any more."""


class DeviceNotReady(LinkError):
    """The device is listed and cannot be used yet: not approved, offline, no permission."""


class DeviceTaken(LinkError):
    """Another Copione on this computer has the device."""


class AppMissing(LinkError):
    """The app under test is not installed on the device."""


class NoAnswer(LinkError):
    """The device has given no whole answer in its time."""


class PictureUnsound(LinkError):
    """The device gave no picture of its screen, or one that is cut short, damaged or larger than any screen."""


class TreeUnreadable(CopioneError):
    """The device gave no element tree, or one that cannot be read."""


class ScriptBroken(CopioneError):
    """A script that does not parse. `problems` are `copione.language.problems.Problem`s."""

    def __init__(self, sentence: str, problems: tuple[object, ...]) -> None:
        super().__init__(sentence)
        self.problems = problems


class FileTrouble(CopioneError):
    """A file of the project is missing, damaged, or cannot be written."""


class Cancelled(CopioneError):
    """The user stopped it."""

    def __init__(self) -> None:
        super().__init__("Stopped by you.")
