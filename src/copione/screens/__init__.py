"""Raw element trees into `Screen`: roles, names, geometry in dp. No I/O."""
