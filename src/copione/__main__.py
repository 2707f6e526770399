"""`copione`, and `python -m copione`."""

import signal


def main() -> None:
    """The command line. While it loads, Ctrl+C simply ends the program: there is nothing to restore yet."""
    listens = signal.getsignal(signal.SIGINT) is signal.default_int_handler  # not in a job that a script has put in the background
    if listens:
        signal.signal(signal.SIGINT, signal.SIG_DFL)
    from .cli import main as command

    if listens:
        signal.signal(signal.SIGINT, signal.default_int_handler)
    command()


if __name__ == "__main__":
    main()
