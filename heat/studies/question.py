"""A question of choices: what could be answered how, and the designs its combinations make."""

import json
from collections.abc import Callable
from math import prod
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError

from heat.catalogue import changes as entry_changes
from heat.catalogue import entries
from heat.common.documents import Document, Values
from heat.design import current_values
from heat.design.changing import kind_changes, with_changes
from heat.design.schemes import SCHEMES
from heat.errors import HeatError, InputError
from heat.studies.following import following
from heat.studies.outcome import EARLIER_KEYS, KEYS
from heat.studies.plans import Levels

MOST_COMBINATIONS = 100_000
"""Combinations a question may have (1); a sample of them is calculated where they are more than wanted."""
Put = Callable[[Document, Values], Document]


class Answer(BaseModel):
    """One answer: its name, and what it makes of a design: a kind, an entry of the catalogue, values by dotted path."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    name: str = Field(min_length=1, max_length=80)
    kind: Literal[""] | str = ""
    entry: str = ""
    values: Annotated[Values, AfterValidator(current_values)] = Field(default_factory=dict, alias="set")
    weather: str = ""


class Choice(BaseModel):
    """One question with two to eight answers."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    name: str = Field(min_length=1, max_length=80)
    answers: tuple[Answer, ...] = Field(min_length=2, max_length=8)


class Limit(BaseModel):
    """What a design must keep to: a number of KEYS, at most or at least so much (its own unit)."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    key: Annotated[str, AfterValidator(lambda key: EARLIER_KEYS.get(key, key))]
    most: float | None = None
    least: float | None = None


class Question(BaseModel):
    """Questions to combine, how many combinations at most, and the limits of the answer."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    questions: tuple[Choice, ...] = Field(min_length=1, max_length=12)
    most: int = Field(1000, ge=2, le=20_000)
    seed: int = 1
    limits: tuple[Limit, ...] = ()

    @property
    def counts(self) -> tuple[int, ...]:
        """How many answers each question has (1)."""
        return tuple(len(choice.answers) for choice in self.questions)


def question_of(found: Any) -> Question:
    """A question from what JSON holds, checked (values in their fields' units, such as L).

    Parameters
    ----------
    found
        The question as JSON holds it.

    Returns
    -------
    Question
        A question from what JSON holds, checked (values in their fields' units, such as L).

    Raises
    ------
    HeatError
        With place and way out.
    """
    try:
        question = Question.model_validate(found)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "question"
        raise HeatError(f"{where}: {first['msg']}.") from error
    for requested in question.questions:
        for answer in requested.answers:
            if answer.kind and answer.kind not in SCHEMES:
                raise HeatError(f"{requested.name}, {answer.name}: there is no kind “{answer.kind}”.")
            if answer.entry and answer.entry not in entries():
                raise HeatError(f"{requested.name}, {answer.name}: the catalogue has no “{answer.entry}”.")
    for limit in question.limits:
        if limit.key not in KEYS:
            raise HeatError(f"limits: there is no “{limit.key}”; there are {', '.join(KEYS)}.")
    whole = prod(question.counts)
    if whole > MOST_COMBINATIONS:
        raise InputError(
            "questions", whole, f"at most {MOST_COMBINATIONS} combinations: leave a question out, or give fewer answers"
        )
    return question


def design_of(document: Document, question: Question, row: Any, put: Put = with_changes) -> Document:
    """The design of one combination (1, an answer for each question): kinds first, then entries, then values and what
    follows them.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    question
        The question with its answers.
    row
        Number of the answer of each question.
    put
        Sets values by dotted path in a document.

    Returns
    -------
    Document
        The design of one combination (1, an answer for each question).

    Raises
    ------
    HeatError
        Where a value is refused.
    KeyError
        For what cannot be set.
    """
    chosen = [requested.answers[int(level)] for requested, level in zip(question.questions, row, strict=True)]
    made = document
    for answer in chosen:
        if answer.kind and answer.kind != made["system"]["kind"]:
            made = put(made, kind_changes(made, answer.kind))
    for answer in chosen:
        if answer.entry:
            made = put(made, entry_changes(entries()[answer.entry], made))
    values: Values = {}
    for answer in chosen:
        values |= answer.values
    return put(made, following(made, values)) if values else made


def names_of(question: Question, row: Any) -> list[str]:
    """The answers of one combination (1) by name.

    Parameters
    ----------
    question
        The question with its answers.
    row
        Number of the answer of each question.

    Returns
    -------
    list[str]
        The answers of one combination (1).
    """
    return [requested.answers[int(level)].name for requested, level in zip(question.questions, row, strict=True)]


def meets_limits(question: Question, figures: dict[str, float]) -> bool:
    """Whether a design's numbers (units of KEYS) keep to the limits.

    Parameters
    ----------
    question
        The question with its answers.
    figures
        Figures by name, each in the unit its name ends in.

    Returns
    -------
    bool
        Whether a design's numbers (units of KEYS) keep to the limits.
    """
    return all(
        (limit.most is None or figures[limit.key] <= limit.most)
        and (limit.least is None or figures[limit.key] >= limit.least)
        for limit in question.limits
    )


def table(question: Question, levels: Levels, rows: Any, refused: dict[int, str]) -> list[Values]:
    """Combinations: answers by question, and their numbers (units of KEYS, such as kWh) or why they are refused.

    Parameters
    ----------
    question
        The question with its answers.
    levels
        Number of the answer of each question, by row.
    rows
        Figures of each combination.
    refused
        Makes an error of the words of a refusal.

    Returns
    -------
    list[Values]
        Combinations: answers by question, and their numbers (units of KEYS, such as kWh) or why they are
        refused.
    """
    found = []
    for i, (level, row) in enumerate(zip(levels, rows, strict=True)):
        line: Values = dict(zip((q.name for q in question.questions), names_of(question, level), strict=True))
        found.append(line | dict(zip(KEYS, map(float, row), strict=True)) | {"refused": refused.get(i, "")})
    return found


def text_of(question: Question) -> str:
    """A question as it is told apart from others.

    Parameters
    ----------
    question
        The question with its answers.

    Returns
    -------
    str
        A question as it is told apart from others.
    """
    return json.dumps(question.model_dump(mode="json", by_alias=True), sort_keys=True)
