"""The interface: the real window, driven with QTest on the offscreen platform."""

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
