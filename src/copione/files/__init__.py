"""Reading and writing files so that nothing is lost, nothing is waited for without end, and every failure has a sentence."""
