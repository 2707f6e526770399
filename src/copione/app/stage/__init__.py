"""The stage: the lead's live screen, and the steps as they are recorded."""
