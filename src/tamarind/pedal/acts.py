"""What a pedal's keys do, by assignment or by position."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum


class PedalAct(StrEnum):
    """An act that a pedal can do."""

    PLAY = "play"
    BACK = "back"
    FORWARD = "forward"


@dataclass(frozen=True, slots=True)
class Press:
    """A key of a pedal going ``down`` or up."""

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
    """Which key does what, by the name of the pedal; with ``holds`` it plays while the pedal is
    held, else one press plays and the next stops."""

    taught: Mapping[str, Mapping[int, PedalAct]] = field(default_factory=dict)
    holds: bool = True

    def act(self, pedal: str, codes: Sequence[int], code: int) -> PedalAct | None:
        """Return the act of a key of a pedal with these keys."""
        own = self.taught.get(pedal)
        if own is not None:
            return own.get(code)
        usual = USUAL.get(min(len(codes), 3), ())
        ordered = sorted(codes)[:3]
        return usual[ordered.index(code)] if code in ordered and usual else None

    def with_taught(self, pedal: str, act: PedalAct, code: int) -> Meaning:
        """Return the meaning with a pressed key assigned to an act, which has one key."""
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
        """Return the meaning of such values; the default for anything else."""
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
