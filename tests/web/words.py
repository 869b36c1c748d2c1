"""What a screen says, read from the templates and from the sentences of the code, for tests of its words."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[2]


def template_texts() -> Iterator[tuple[Path, str]]:
    """Each template without its tags, comments and the attributes nobody reads."""
    for path in sorted((ROOT / "web").rglob("templates/**/*.*")):
        if path.suffix not in (".html", ".txt"):
            continue
        text = path.read_text(encoding="utf-8")
        text = re.sub(r"(?s){#.*?#}|{% comment %}.*?{% endcomment %}|<script.*?</script>", " ", text)
        text = re.sub(r"(?s){%.*?%}|{{.*?}}", " ", text)
        read = " ".join(re.findall(r'(?:placeholder|title|aria-label|alt)="([^"]*)"', text))
        yield path, " ".join(f"{re.sub(r'(?s)<[^>]*>', ' ', text)} {read}".split())


def code_sentences() -> Iterator[tuple[Path, str]]:
    """Each string of the code of two words or more that is no docstring."""
    for folder in ("tackle", "web"):
        for path in sorted((ROOT / folder).rglob("*.py")):
            tree = ast.parse(path.read_text(encoding="utf-8"))
            docs = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
            for node in ast.walk(tree):
                text = node.value if isinstance(node, ast.Constant) and id(node) not in docs else None
                if isinstance(text, str) and re.search(r"[a-z] [a-z]", text):
                    yield path, " ".join(text.split())
