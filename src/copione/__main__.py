"""`copione`, and `python -m copione`."""

import signal


def main() -> None:
    """The command line. Until it is loaded, Ctrl+C ends the program at once: nothing has been done yet that must be put back."""
    heard = signal.signal(signal.SIGINT, signal.SIG_DFL)
    from .cli import main as command

    signal.signal(signal.SIGINT, heard)
    command()


if __name__ == "__main__":
    main()
