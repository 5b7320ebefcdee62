"""Public functions of the core say in their docstrings what they refuse."""

import ast
from pathlib import Path

import pytest

CORE = Path(__file__).parents[1] / "elastic_core"
# A command's docstring is its help; what it refuses is one plain line.
FILES = sorted(
    path
    for path in CORE.rglob("*.py")
    if path.name != "command_line.py" and not path.name.endswith("_commands.py")
)


def refuses(function: ast.FunctionDef) -> bool:
    return any(
        isinstance(node, ast.Raise)
        and isinstance(node.exc, ast.Call)
        and isinstance(node.exc.func, ast.Name)
        and node.exc.func.id == "Refusal"
        for node in ast.walk(function)
    )


@pytest.mark.parametrize("path", FILES, ids=lambda path: str(path.relative_to(CORE)))
def test_what_is_refused_is_said(path: Path) -> None:
    functions = [
        node
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
        if isinstance(node, ast.FunctionDef) and not node.name.startswith("_")
    ]
    silent = [
        function.name
        for function in functions
        if refuses(function) and "Refusal" not in (ast.get_docstring(function) or "")
    ]
    assert silent == []
