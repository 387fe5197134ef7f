"""The graph as a page of the documentation, drawn from the code: ``python -m
sandscale.services.keeping.graph_page``."""

from __future__ import annotations

from collections.abc import Iterator

from peewee import Field

from .graph import After, Node, Written, nodes

HEAD = """# What depends on what

Drawn from the nodes that the stages declare (`services/<stage>/nodes.py`) by the command
`python -m sandscale.services.keeping.graph_page`; a test fails when it is out of date. Boxes are derived
figures, worked out in the order of the arrows; rounded ones are tables that people write, with the columns
that matter on the arrow.
"""


def page() -> str:
    """The page, as Markdown with a Mermaid drawing and a table."""
    drawing = ["```mermaid", "flowchart LR", *_drawn(), "```"]
    rows = [
        "| figures | of | written to | worked out again among themselves | slow |",
        "| --- | --- | --- | --- | --- |",
    ]
    for node in nodes().values():
        given = ", ".join(f"`{_name(field)}`" for field in node.gives)
        among = (each for each in node.edges if isinstance(each, After) and each.node == node.name)
        paths = (" → ".join(f"`{_name(key)}`" for key in each.through) or "as it is read" for each in among)
        within = "; ".join(paths) or "no"
        slow = "some, as jobs" if node.slow else "no"
        rows.append(f"| {node.name} | `{node.table._meta.table_name}` | {given} | {within} | {slow} |")
    return "\n".join([HEAD, *drawing, "", *rows, ""])


def _drawn() -> Iterator[str]:
    for node in nodes().values():
        yield f"  {node.name}[{node.name}]"
    edges = [edge for node in nodes().values() for edge in node.edges]
    tables = dict.fromkeys(edge.table for edge in edges if isinstance(edge, Written))
    for table in tables:
        yield f"  t_{table._meta.table_name}([{table._meta.table_name}])"
    for node in nodes().values():
        yield from _arrows(node)


def _arrows(node: Node) -> Iterator[str]:
    for edge in node.edges:
        if isinstance(edge, After):
            if edge.node == node.name:
                continue
            yield f"  {edge.node} ==> {node.name}"
        else:
            columns = ", ".join(column.name for column in edge.columns)
            label = f"|{columns}| " if columns else ""
            yield f"  t_{edge.table._meta.table_name} -->{label}{node.name}"


def _name(field: Field) -> str:
    return f"{field.model._meta.table_name}.{field.name}"


if __name__ == "__main__":
    print(page(), end="")
