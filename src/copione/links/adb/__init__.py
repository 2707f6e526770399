"""Android devices through the smart-socket protocol of an adb server."""
