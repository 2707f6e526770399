"""What each action does on a device. Each module registers its functions with `performs`."""

from __future__ import annotations

from ..context import StepContext
from . import apps, checks, choosing, deciding, touching, values
from .registry import PERFORMERS, performs

__all__ = ("PERFORMERS", "apps", "checks", "choosing", "deciding", "perform", "performs", "touching", "values")


def perform(context: StepContext) -> None:
    """Do the context's step. What becomes of it is left in the context; CopioneError is raised where the device fails."""
    action = context.step.action
    PERFORMERS[type(action)](context, action)
