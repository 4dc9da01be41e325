"""Figures of a study as documents, there and back."""

from __future__ import annotations

from typing import Annotated, Literal, assert_never

from pydantic import BaseModel, ConfigDict, Field

from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.figures import (
    LEAST_CM,
    LEAST_LETTERS,
    LONGEST_CAPTION,
    LONGEST_TEXT,
    MOST_CM,
    MOST_LETTERS,
    AxisKey,
    AxisTuning,
    CasesAs,
    Colours,
    Figure,
    FigureLook,
    FigureSize,
    GroundAs,
    Hue,
    LegendAs,
    LineKey,
    LineOf,
    LineTuning,
    Live,
    Marker,
    PaneKind,
    Parts,
    Pattern,
    ProbeShown,
    RegionAs,
    Role,
    Shown,
    ShowsCheck,
    ShowsGroup,
    ShowsProbe,
    ShowsSteps,
    TextKey,
    TextTuning,
)
from yellow_slope.core.study.gone import Gone, What
from yellow_slope.core.study.probe import LONGEST_NAME

Letters = Annotated[float, Field(ge=LEAST_LETTERS, le=MOST_LETTERS, allow_inf_nan=False)]
Number = Annotated[float, Field(allow_inf_nan=False)]


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", populate_by_name=True)


class ShowsProbeDocument(_Document):
    """Plots of a probe."""

    shows: Literal["probe"] = "probe"
    focal: str = Field(description="the predictor whose effect is asked")
    moderator: str = Field(description="what the effect may depend on")
    second: str | None = Field(None, description="the second moderator")
    model: str | None = Field(None, description="id of the model; without it the current one")
    kept: str = Field("", description="the name that the probe is kept under")
    view: ProbeShown = Field(ProbeShown.BOTH, description="which of its plots")
    comparison: str = Field("", description="name of the comparison of a group; without it the first")


class ShowsCheckDocument(_Document):
    """The plot of a question that Checks asks."""

    shows: Literal["check"] = "check"
    check: Check = Field(description="the question; “stand”: the product and its rivals")
    model: str | None = Field(None, description="id of the model; without it the current one")
    step: str | None = Field(None, description="id of the block whose step; without it the reported one")
    by: str | None = Field(None, description="a predictor that residuals are drawn along")


class ShowsStepsDocument(_Document):
    """The coefficients over the steps."""

    shows: Literal["steps"] = "steps"
    model: str | None = Field(None, description="id of the model; without it the current one")


class ShowsGroupDocument(_Document):
    """Means of the outcome in a group's levels, with the cases."""

    shows: Literal["group"] = "group"
    variable: str = Field(description="the group")
    model: str | None = Field(None, description="id of the model; without it the current one")


class LookDocument(_Document):
    """How a figure looks where nothing else is said."""

    name: str = Field(max_length=LONGEST_NAME, description="name of the look")
    letters: Letters = Field(9.0, description="points")
    strength: float = Field(1.0, ge=0.2, le=10, description="how strong lines, gaps and points are; on paper 1")
    colours: Colours = Field(Colours.COLOUR, description="which colours it has")
    width: float | None = Field(None, ge=LEAST_CM, le=MOST_CM, description="the width it is meant for, in centimetres")
    height: float | None = Field(None, ge=LEAST_CM, le=MOST_CM, description="the height it is meant for")


class LineKeyDocument(_Document):
    """A line, a group or a row."""

    kind: LineOf = Field(description="what it stands for")
    variable: str = Field(description="the variable")
    of: str = Field(description="code of the level, rank of the place from 1, or name of the comparison")


class TextDocument(_Document):
    """What is said otherwise of a text, or of all texts of a role in a plot."""

    role: Role = Field(description="what the text does")
    pane: PaneKind | None = Field(None, description="in which plot")
    line: LineKeyDocument | None = Field(None, description="the line that it names")
    number: int | None = Field(None, description="which of several, from 0")
    words: str | None = Field(None, max_length=LONGEST_TEXT, description="what stands there")
    size: Letters | None = Field(None, description="points")
    italic: bool | None = Field(None, description="whether it is slanted")
    shift: tuple[Number, Number] | None = Field(None, description="points to the right and down")
    hidden: bool = Field(False, description="whether it is left out")


class LineDocument(_Document):
    """What is said otherwise of a line or a group."""

    line: LineKeyDocument = Field(description="which line")
    hue: Hue | None = Field(None, description="its hue")
    pattern: Pattern | None = Field(None, description="how it is dashed")
    width: float | None = Field(None, ge=0.1, le=20, description="points")
    marker: Marker | None = Field(None, description="shape of its points")
    first: bool = Field(False, description="whether it comes before the others")


class AxisDocument(_Document):
    """What is said otherwise of an axis."""

    pane: PaneKind = Field(description="of which plot")
    upright: bool = Field(description="whether it is the upright one")
    low: Number | None = Field(None, description="where it begins")
    high: Number | None = Field(None, description="where it ends")
    step: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = Field(None, description="from tick to tick")
    decimals: int | None = Field(None, ge=0, le=9, description="of its ticks")
    zero: bool | None = Field(None, description="whether a line stands at 0")


class PartsDocument(_Document):
    """What is said otherwise of parts."""

    band: float | None = Field(None, ge=0, le=1, description="how strong bands are; 0: none")
    cases: CasesAs | None = Field(None, description="how cases are drawn")
    jitter: bool = Field(False, description="whether cases of whole numbers are spread a little")
    region: RegionAs | None = Field(None, description="how regions are drawn")
    ground: GroundAs = Field(GroundAs.PAPER, description="what is behind it")
    legend: LegendAs = Field(LegendAs.ENDS, description="where names of lines stand")
    box_at: tuple[Number, Number] | None = Field(None, description="left top corner of the box, in shares of the plot")


class LiveDocument(_Document):
    """Something of a caption that follows the data."""

    live: Live = Field(description="what it is")


class LostDocument(_Document):
    """What was said of something that is gone."""

    variable: str = Field(description="the variable")
    code: str = Field("", description="the level's code")


class FigureDocument(_Document):
    """A figure: what it shows, its look, its size, and what is said otherwise."""

    name: str = Field(min_length=1, max_length=LONGEST_NAME, description="its name")
    shows: Annotated[
        ShowsProbeDocument | ShowsCheckDocument | ShowsStepsDocument | ShowsGroupDocument,
        Field(discriminator="shows", description="what it shows"),
    ]
    look: LookDocument = Field(description="its look, as it was when it was chosen")
    width: float = Field(ge=LEAST_CM, le=MOST_CM, description="centimetres")
    height: float | None = Field(None, ge=LEAST_CM, le=MOST_CM, description="centimetres; without it what suits")
    letters: Letters | None = Field(None, description="points; without it the look's")
    texts: list[TextDocument] = Field([], max_length=2000, description="texts said otherwise")
    lines: list[LineDocument] = Field([], max_length=2000, description="lines said otherwise")
    axes: list[AxisDocument] = Field([], max_length=100, description="axes said otherwise")
    parts: PartsDocument = Field(PartsDocument(), description="parts said otherwise")
    title: str | None = Field(None, max_length=LONGEST_TEXT, description="above the figure; without it none")
    heading: str | None = Field(None, max_length=LONGEST_TEXT, description="what it is called in the report")
    caption: list[str | LiveDocument] | None = Field(None, max_length=500, description="pieces of its caption")
    alternative: str | None = Field(None, max_length=LONGEST_CAPTION, description="for those who do not see it")
    lost: list[LostDocument] = Field([], description="what was said of levels that are gone")


# ---- there


def figure_document(figure: Figure) -> FigureDocument:
    """A figure as a document."""
    parts = figure.parts
    return FigureDocument(
        name=figure.name,
        shows=_shown_document(figure.shows),
        look=look_document(figure.look),
        width=figure.size.width,
        height=figure.size.height,
        letters=figure.letters,
        texts=[_text_document(key, said) for key, said in figure.texts],
        lines=[
            LineDocument(
                line=_line_key_document(key),
                hue=said.hue,
                pattern=said.pattern,
                width=said.width,
                marker=said.marker,
                first=said.first,
            )
            for key, said in figure.lines
        ],
        axes=[
            AxisDocument(
                pane=key.pane,
                upright=key.upright,
                low=said.low,
                high=said.high,
                step=said.step,
                decimals=said.decimals,
                zero=said.zero,
            )
            for key, said in figure.axes
        ],
        parts=PartsDocument(
            band=parts.band,
            cases=parts.cases,
            jitter=parts.jitter,
            region=parts.region,
            ground=parts.ground,
            legend=parts.legend,
            box_at=parts.box_at,
        ),
        title=figure.title,
        heading=figure.heading,
        caption=None
        if figure.caption is None
        else [LiveDocument(live=p) if isinstance(p, Live) else p for p in figure.caption],
        alternative=figure.alternative,
        lost=[LostDocument(variable=gone.names[0], code=gone.code) for gone in figure.lost],
    )


def look_document(look: FigureLook) -> LookDocument:
    """A look as a document."""
    size = look.size
    return LookDocument(
        name=look.name,
        letters=look.letters,
        strength=look.strength,
        colours=look.colours,
        width=None if size is None else size.width,
        height=None if size is None else size.height,
    )


def _shown_document(shows: Shown) -> ShowsProbeDocument | ShowsCheckDocument | ShowsStepsDocument | ShowsGroupDocument:
    match shows:
        case ShowsProbe():
            return ShowsProbeDocument(
                focal=shows.focal,
                moderator=shows.moderator,
                second=shows.second,
                model=shows.model,
                kept=shows.kept,
                view=shows.view,
                comparison=shows.comparison,
            )
        case ShowsCheck():
            return ShowsCheckDocument(check=shows.check, model=shows.model, step=shows.step, by=shows.by)
        case ShowsSteps():
            return ShowsStepsDocument(model=shows.model)
        case ShowsGroup():
            return ShowsGroupDocument(variable=shows.variable, model=shows.model)
        case _:
            assert_never(shows)


def _line_key_document(key: LineKey) -> LineKeyDocument:
    return LineKeyDocument(kind=key.kind, variable=key.variable, of=key.of)


def _text_document(key: TextKey, said: TextTuning) -> TextDocument:
    return TextDocument(
        role=key.role,
        pane=key.pane,
        line=None if key.line is None else _line_key_document(key.line),
        number=key.number,
        words=said.words,
        size=said.size,
        italic=said.italic,
        shift=said.shift,
        hidden=said.hidden,
    )


# ---- back


def figure_of(said: FigureDocument) -> Figure:
    """A figure from its document."""
    parts = said.parts
    return Figure(
        said.name,
        _shown(said),
        look_of(said.look),
        FigureSize(said.width, said.height),
        said.letters,
        tuple(
            (
                TextKey(t.role, t.pane, None if t.line is None else _line_key(t.line), t.number),
                TextTuning(t.words, t.size, t.italic, t.shift, t.hidden),
            )
            for t in said.texts
        ),
        tuple((_line_key(x.line), LineTuning(x.hue, x.pattern, x.width, x.marker, x.first)) for x in said.lines),
        tuple(
            (AxisKey(a.pane, a.upright), AxisTuning(a.low, a.high, a.step, a.decimals, a.zero))
            for a in said.axes
            if a.low is None or a.high is None or a.low < a.high
        ),
        Parts(parts.band, parts.cases, parts.jitter, parts.region, parts.ground, parts.legend, parts.box_at),
        said.title,
        said.heading,
        None if said.caption is None else tuple(p if isinstance(p, str) else p.live for p in said.caption),
        said.alternative,
        tuple(Gone(What.TUNED, (gone.variable,), gone.code) for gone in said.lost),
    )


def look_of(said: LookDocument) -> FigureLook:
    """A look from its document."""
    size = None if said.width is None else FigureSize(said.width, said.height)
    return FigureLook(said.name, said.letters, said.strength, said.colours, size)


def _line_key(said: LineKeyDocument) -> LineKey:
    return LineKey(said.kind, said.variable, said.of)


def _shown(said: FigureDocument) -> Shown:
    shows = said.shows
    match shows:
        case ShowsProbeDocument():
            return ShowsProbe(
                shows.focal, shows.moderator, shows.second, shows.model, shows.kept, shows.view, shows.comparison
            )
        case ShowsCheckDocument():
            return ShowsCheck(shows.check, shows.model, shows.step, shows.by)
        case ShowsStepsDocument():
            return ShowsSteps(shows.model)
        case ShowsGroupDocument():
            return ShowsGroup(shows.variable, shows.model)
        case _:
            assert_never(shows)
