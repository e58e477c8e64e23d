"""What marks, spans and states do, in words that can be read back."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leanstep.core.character.clips import Effect, Mark, Span
from leanstep.core.character.inputs import Parameter
from leanstep.core.errors import LeanStepError
from leanstep.core.graph import effect_text
from tests.support.build import sketch, way

EFFECTS = (
    Effect(do="raise", name="step"),
    Effect(do="set", name="drawn", value=True),
    Effect(do="set", name="stance", value="low"),
    Effect(do="set", name="hits", value=2.5),
    Effect(do="add", name="hits", value=-1.0),
    Effect(do="lock", name="my swing"),
    Effect(do="unlock", name="swing as told; again"),
    Effect(do="freeze", value=4.0),
)


def test_every_effect_is_read_as_it_is_written() -> None:
    text = effect_text.effect_words(EFFECTS)
    assert text.startswith("raise step; set drawn to on; set stance to low; set hits to 2.5; add -1 to hits")
    assert effect_text.read_effects(text) == EFFECTS
    assert effect_text.read_effects(" RAISE step ;; ") == (Effect(do="raise", name="step"),)


def test_marks_and_spans_say_words_to_the_game() -> None:
    mark = Mark(
        name="step", effects=EFFECTS[:1], says={"foot": "left", "volume": 0.6, "wet": True, "note": "on the quay"}
    )
    assert (
        effect_text.mark_words(mark)
        == 'raise step; say foot = left; say volume = 0.6; say wet = on; say note = "on the quay"'
    )
    assert effect_text.read_mark(effect_text.mark_words(mark)) == {"effects": mark.effects, "says": mark.says}
    span = Span(name="cut", hold="sharp", lock=True, says={"strength": 3.0})
    assert effect_text.span_words(span) == "hold sharp; lock movement; say strength = 3"
    assert effect_text.read_span(effect_text.span_words(span)) == {
        "hold": "sharp",
        "lock": True,
        "says": {"strength": 3.0},
    }
    assert effect_text.read_span("") == {"hold": "", "lock": False, "says": {}}


@pytest.mark.parametrize("text", ["jump up", "set drawn", "add many to hits", "freeze soon ticks", "say foot = left"])
def test_what_cannot_be_read_says_what_could_be_written(text: str) -> None:
    with pytest.raises(LeanStepError) as told:
        effect_text.read_effects(text)
    assert told.value.way_out


def test_effects_that_cannot_be_done_say_why() -> None:
    parameters = (Parameter(name="drawn", kind="flag", owner="graph"), Parameter(name="hits", owner="graph", max=9.0))
    made = sketch(way("a>b", "go"), parameters=parameters)
    assert effect_text.fault_of(made, effect_text.read_effects("set drawn to on; add 1 to hits")) == ""
    assert "Did you mean drawn?" in effect_text.fault_of(made, effect_text.read_effects("set drawm to on"))
    assert "pulses are raised" in effect_text.fault_of(made, effect_text.read_effects("raise drawn"))
    assert "set drawn to off" in effect_text.phrases(made) and "add 1 to hits" in effect_text.phrases(made)
    assert "hold drawn" in effect_text.phrases(made, span=True)


TEXTS = st.text(st.characters(exclude_categories=("Cs",)), min_size=1, max_size=12) | st.sampled_from(  # type: ignore[arg-type]
    ['say "no"', "a; b", "back\\", "  two  spaces ", "nan", "On", "1e3", "x to y", "tab\there", "new\nline"]
)
VALUES = st.floats(allow_nan=False, allow_infinity=False) | st.booleans() | TEXTS


@given(
    st.lists(
        st.builds(Effect, do=st.just("set"), name=TEXTS, value=VALUES)
        | st.builds(Effect, do=st.just("add"), name=TEXTS, value=st.floats(allow_nan=False, allow_infinity=False))
        | st.builds(Effect, do=st.sampled_from(["raise", "lock", "unlock"]), name=TEXTS)
        | st.builds(Effect, do=st.just("freeze"), value=st.integers(1, 99).map(float)),
        max_size=3,
    ),
    st.dictionaries(TEXTS, VALUES, max_size=3),
)
def test_whatever_a_file_holds_is_read_back_to_the_last_bit(effects: list[Effect], says: dict[str, object]) -> None:
    mark = Mark(name="m", effects=tuple(effects), says=says)  # type: ignore[arg-type]
    found = effect_text.read_mark(effect_text.mark_words(mark))
    assert repr(found) == repr({"effects": mark.effects, "says": mark.says}), effect_text.mark_words(mark)
