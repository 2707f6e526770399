"""`python -m copione`."""

from .cli import main

main()
