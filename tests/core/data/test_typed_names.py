"""How variables are typed, and that thousands of them are no burden at a key."""

from __future__ import annotations

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.clock import Watch
from yellow_slope.core.data.conditiontext import completions
from yellow_slope.core.data.scanner import Scanner, Stop, typed_name
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.quickline import complete, read_line, write_line
from yellow_slope.core.study.edits.blocks import set_outcome
from yellow_slope.core.study.study import new_study
from yellow_slope.values import replace

LABELS = st.text(st.sampled_from("abAB 12.,;x×=()[]-+é²“”ß'"), min_size=1, max_size=8)


@settings(max_examples=300, deadline=None)
@given(st.lists(st.tuples(LABELS, LABELS), min_size=1, max_size=6, unique_by=lambda pair: pair[0]))
def test_what_is_typed_is_read_back_as_the_variable(pairs: list[tuple[str, str]]) -> None:
    variables = tuple(
        Variable(name.replace("[", "").replace("]", "") or "n", Kind.NUMBER, label) for name, label in pairs
    )
    if len({v.name for v in variables}) < len(variables):
        return
    for variable in variables:
        typed = typed_name(variable, variables)
        scanner = Scanner(typed, variables)
        assert scanner.variable().name == variable.name, typed
        assert scanner.is_done
        assert typed in (variable.label, f"[{variable.name}]")
        if typed != variable.label:  # the label would have been read otherwise, or not at all
            scanner = Scanner(variable.label, variables)
            twins = [v for v in variables if variable.label.casefold() in {t.casefold() for t in (v.name, v.label)}]
            try:
                other = scanner.variable().name != variable.name or not scanner.is_done
            except Stop:
                other = True
            assert other or len(twins) > 1 or "[" in variable.label or variable.label != variable.label.strip()


def test_a_key_among_five_thousand_columns() -> None:
    k = 5000
    columns = tuple(number_column(f"item {i:05d}", [float(i), 1.0, 2.0 + i]) for i in range(k))
    study = set_outcome(new_study(Table(columns)), "item 00000")
    line, rule = "item 00000 = item 00001, item 0", "item 00001 at least 3 and item 0"
    read_line(study, line)  # the names are sorted once
    watch = Watch()
    for _ in range(3):
        read_line(study, line)
        _, offered = complete(study, line, len(line))
        _, names = completions(study.variables, rule, len(rule))
        write_line(study)
    assert not watch.is_over(1.0), "was 46 s for one"
    assert offered[:2] == names[:2] == ["item 00000", "item 00001"]


def test_names_that_changed_are_known_at_once() -> None:
    study = new_study(Table((number_column("a", [1.0, 2.0]), number_column("b", [3.0, 4.0]))))
    assert typed_name(study.variables[0], study.variables) == "a"
    renamed = (replace(study.variables[0], label="b"), study.variables[1])
    assert typed_name(renamed[0], renamed) == "[a]"
    assert typed_name(study.variables[0], study.variables) == "a"
