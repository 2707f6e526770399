"""How the house is built: no circle of imports, everything public explained, the doors quick to open."""

import ast
import importlib
import inspect
import subprocess
import sys
import unittest
from pathlib import Path

SOURCE = Path(__file__).parent.parent / "src"


def modules() -> dict[str, Path]:
    found = {}
    for path in SOURCE.rglob("*.py"):
        parts = path.relative_to(SOURCE).with_suffix("").parts
        found[".".join(parts[:-1] if parts[-1] == "__init__" else parts)] = path
    return found


def imported(name: str, path: Path, known: set[str]) -> set[str]:
    """The modules that one imports anywhere in it: at its top, in a function, or for its types only."""
    package = name if path.name == "__init__.py" else name.rpartition(".")[0]
    found: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            found.update(alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            base = node.module or ""
            if node.level:
                above = package.split(".")[: len(package.split(".")) - node.level + 1]
                base = ".".join([*above, base] if base else above)
            found.update(f"{base}.{alias.name}" if f"{base}.{alias.name}" in known else base for alias in node.names)
    return (found & known) - {name}


def circles(arrows: dict[str, set[str]]) -> list[list[str]]:
    """The strongly connected parts of more than one module (Tarjan 1972)."""
    number: dict[str, int] = {}
    low: dict[str, int] = {}
    stack: list[str] = []
    found: list[list[str]] = []

    def visit(name: str) -> None:
        number[name] = low[name] = len(number)
        stack.append(name)
        for other in arrows[name]:
            if other not in number:
                visit(other)
                low[name] = min(low[name], low[other])
            elif other in stack:
                low[name] = min(low[name], number[other])
        if low[name] == number[name]:
            part = [stack.pop()]
            while part[-1] != name:
                part.append(stack.pop())
            if len(part) > 1:
                found.append(sorted(part))

    for name in arrows:
        if name not in number:
            visit(name)
    return found


def _is_method(member: object) -> bool:
    plain = inspect.isfunction(member) and member.__name__ != "<lambda>"
    return plain or isinstance(member, property | classmethod | staticmethod)


def heavy_after(code: str) -> str:
    """Which of the large packages a program has loaded that begins so."""
    heavy = ("numpy", "lxml", "lark", "httpcore", "cv2", "PIL", "jinja2", "copione_lab")
    whole = f"import sys; {code}; print([m for m in {heavy} if m in sys.modules]); sys.stdout.flush(); import os; os._exit(0)"
    return subprocess.run([sys.executable, "-c", whole], capture_output=True, text=True, check=True).stdout.strip()


class House(unittest.TestCase):
    def test_no_module_imports_in_a_circle(self) -> None:
        known = modules()
        self.assertEqual(circles({name: imported(name, path, set(known)) for name, path in known.items()}), [])

    def test_everything_public_of_the_core_is_explained(self) -> None:
        """A method that does what its base class or protocol says is explained there."""
        silent = []
        for name in modules():
            if name.partition(".")[0] != "copione" or name.startswith("copione.app") or name.endswith("__main__"):
                continue
            module = importlib.import_module(name)
            silent += [] if module.__doc__ else [name]
            for thing in vars(module).values():
                if getattr(thing, "__module__", "") != name or not (inspect.isclass(thing) or inspect.isfunction(thing)):
                    continue
                parts = [(thing.__name__, thing)]
                if inspect.isclass(thing):
                    parts += [(f"{thing.__name__}.{key}", getattr(thing, key)) for key, each in vars(thing).items() if _is_method(each)]
                for words, part in parts:
                    if not any(word.startswith("_") for word in words.split(".")) and not inspect.getdoc(part):
                        silent.append(f"{name}: {words}")
        self.assertEqual(silent, [])

    def test_the_command_line_loads_nothing_heavy(self) -> None:
        self.assertEqual(heavy_after("import copione.cli"), "[]")
