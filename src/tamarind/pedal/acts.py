"""What a pedal's keys mean: taught by pressing, or by where they lie; and what a press does."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum


class PedalAct(StrEnum):
    """What can be done with the feet."""

    PLAY = "play"
    BACK = "back"
    FORWARD = "forward"


@dataclass(frozen=True, slots=True)
class Press:
    """A key of a pedal goes ``down`` or up again."""

    code: int
    down: bool


USUAL = {
    1: (PedalAct.PLAY,),
    2: (PedalAct.BACK, PedalAct.PLAY),
    3: (PedalAct.BACK, PedalAct.PLAY, PedalAct.FORWARD),
}
"""What the keys do from left to right, by how many there are, until a person says otherwise."""


@dataclass(frozen=True, slots=True)
class Meaning:
    """Which key does what, by the name of the pedal; with ``holds`` it plays as long as the pedal
    is held down, else a press plays and the next one stops."""

    taught: Mapping[str, Mapping[int, PedalAct]] = field(default_factory=dict)
    holds: bool = True

    def act(self, pedal: str, codes: Sequence[int], code: int) -> PedalAct | None:
        """What a key of a pedal with these keys does."""
        own = self.taught.get(pedal)
        if own is not None:
            return own.get(code)
        usual = USUAL.get(min(len(codes), 3), ())
        ordered = sorted(codes)[:3]
        return usual[ordered.index(code)] if code in ordered and usual else None

    def with_taught(self, pedal: str, act: PedalAct, code: int) -> Meaning:
        """This meaning, but for a key that has been pressed to be taught; an act has one key."""
        own = {c: a for c, a in self.taught.get(pedal, {}).items() if a is not act and c != code}
        return Meaning({**self.taught, pedal: {**own, code: act}}, self.holds)

    def data(self) -> dict[str, object]:
        """Return the meaning as values that JSON can hold."""
        taught = {
            pedal: {str(code): act.value for code, act in own.items()}
            for pedal, own in self.taught.items()
        }
        return {"taught": taught, "holds": self.holds}

    @staticmethod
    def from_data(data: object) -> Meaning:
        """Return the meaning in such values; the usual one for anything else."""
        if not isinstance(data, dict):
            return Meaning()
        try:
            taught = {
                str(pedal): {int(code): PedalAct(act) for code, act in dict(own).items()}
                for pedal, own in dict(data.get("taught", {})).items()
            }
        except (TypeError, ValueError):
            return Meaning()
        return Meaning(taught, data.get("holds", True) is not False)
