"""The schemas of our documents, from their types; what a field means is its docstring."""

from __future__ import annotations

import ast
import inspect
import sys
from typing import Any

import msgspec

from yellow_slope.core.study.terms import Term
from yellow_slope.files.specdocument import SpecDocument
from yellow_slope.files.study.studydocument import StudyDocument
from yellow_slope.files.written.resultparts import BasisPart, ResultsDocument

DOCUMENTS: dict[str, type] = {"results": ResultsDocument, "spec": SpecDocument, "study": StudyDocument}


def schema_of(document: type) -> dict[str, Any]:
    """The JSON Schema of a document."""
    kinds = [document, *(BasisPart.__subclasses__() if document is ResultsDocument else ())]
    (top, *others), parts = msgspec.json.schema_components(kinds, schema_hook=_of_hook)
    if others:
        parts["BasisPart"] = {"description": inspect.getdoc(BasisPart), "anyOf": others}
    for kind in _kinds(msgspec.inspect.multi_type_info(kinds)):
        said, part = _docs(kind), parts.get(kind.__name__, {})
        for name, field in part.get("properties", {}).items():
            if name in said and "description" not in field:
                field["description"] = said[name]
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **top, "$defs": parts}


def _of_hook(kind: type) -> dict[str, Any]:
    if kind is Term:
        return {"type": "array", "items": {"type": "string"}, "minItems": 1, "description": inspect.getdoc(Term)}
    raise NotImplementedError(kind)


def _kinds(infos: Any, seen: set[type] | None = None) -> set[type]:
    """Every kind of value that stands in a document."""
    seen = set() if seen is None else seen
    for info in infos:
        if isinstance(info, msgspec.inspect.StructType):
            if info.cls in seen:
                continue
            seen.add(info.cls)
            _kinds((field.type for field in info.fields), seen)
        for name in ("types", "item_types"):
            _kinds(getattr(info, name, ()), seen)
        for name in ("item_type", "value_type", "type"):
            if hasattr(info, name):
                _kinds((getattr(info, name),), seen)
    return seen


def _docs(kind: type) -> dict[str, str]:
    """What the fields of a kind mean, by their names in files."""
    found: dict[str, str] = {}
    for base in reversed(kind.__mro__):
        if base.__module__.startswith("yellow_slope") and base.__name__ != "dataclass":
            (node,) = ast.parse(_source(base)).body
            assert isinstance(node, ast.ClassDef)
            for one, after in zip(node.body, node.body[1:]):
                if isinstance(one, ast.AnnAssign) and isinstance(one.target, ast.Name) and (said := _text(after)):
                    found[one.target.id] = inspect.cleandoc(said)
    names = {field.name: field.encode_name for field in msgspec.structs.fields(kind)}
    return {names.get(name, name): said for name, said in found.items()}


def _text(node: ast.stmt) -> str:
    """A docstring; empty for what is none."""
    is_constant = isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
    return str(ast.literal_eval(node.value)) if is_constant and isinstance(node, ast.Expr) else ""


def _source(kind: type) -> str:
    tree = ast.parse(inspect.getsource(sys.modules[kind.__module__]))
    node = next(n for n in tree.body if isinstance(n, ast.ClassDef) and n.name == kind.__name__)
    node.decorator_list = []
    return ast.unparse(node)
