"""Listening for given terms: a prefix tree of their tokens that favours texts which follow it.

Contextual shallow fusion on a prefix tree (Zhao et al. 2019, "Shallow-Fusion End-to-End Contextual
Biasing"): each token that goes on within a term adds to the score; a text that leaves the tree
before a term is whole gives back what it got.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from tamarind.speech.glossary import Glossary
from tamarind.speech.recognisers.tokens import Vocabulary

REWARD = 2.0
"""Natural log by which each token of a term is favoured."""

GREATEST_REWARD = 9.0
"""No term gets more than this, however many tokens it has."""

_ROOT = 0


@dataclass(slots=True)
class _Node:
    earned: float = 0.0
    is_term: bool = False
    children: dict[int, int] = field(default_factory=dict)


class TermBias:
    """A ``Bias`` of the search (see ``tamarind.speech.search``) towards a glossary's terms."""

    def __init__(self, glossary: Glossary, vocabulary: Vocabulary) -> None:
        self._nodes = [_Node()]
        for term in glossary.terms:
            for text in {term.text, term.text[:1].upper() + term.text[1:]}:
                self._add(vocabulary.encode(f" {text}"))

    def start(self) -> int:
        """The root of the tree: outside all terms."""
        return _ROOT

    def wanted(self, state: int) -> Sequence[int]:
        """Tokens with which a term goes on here, or begins."""
        here = tuple(self._nodes[state].children)
        return here if state == _ROOT else here + tuple(self._nodes[_ROOT].children)

    def move(self, state: int, token: int) -> tuple[int, float]:
        """Where a token leads, and what it earns or gives back."""
        node = self._nodes[state]
        further = node.children.get(token)
        if further is not None:
            return further, self._nodes[further].earned - node.earned
        given_back = 0.0 if node.is_term else node.earned
        begun = self._nodes[_ROOT].children.get(token, _ROOT)
        return begun, self._nodes[begun].earned - given_back

    def _add(self, tokens: Sequence[int]) -> None:
        place = _ROOT
        step = min(REWARD, GREATEST_REWARD / max(len(tokens), 1))
        for depth, token in enumerate(tokens, 1):
            known = self._nodes[place].children.get(token)
            if known is None:
                known = len(self._nodes)
                self._nodes[place].children[token] = known
                self._nodes.append(_Node())
            place = known
            self._nodes[place].earned = max(self._nodes[place].earned, depth * step)
        if place != _ROOT:
            self._nodes[place].is_term = True
