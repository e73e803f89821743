"""Find how many voices there are among points, and the mean of each.

The number is first that of the normalised maximum eigengap (Park et al. 2020, "Auto-tuning
spectral clustering for speaker diarization using normalized maximum eigengap"), and at least two.
Clusters are put together, the least apart first, unless they are told apart by how they lie to one
another, among others in two heaps (Ashman et al. 1994, "Detecting bimodality in astronomical
datasets"): logistic regression, fitted by ``benchmarks/voices.py`` on conversations of people with
short turns and on single voices. Whether there is one voice or two is decided by weights of its
own, since a voice cut in two looks otherwise than two of many clusters.
Neighbours that are almost the same point, which overlapping windows and sounds that come again and
again are, say nothing about voices and are left out. The clusters are found in two ways, spectral
(von Luxburg 2007, "A tutorial on spectral clustering") and agglomerative, and the tighter ones are
taken after spherical k-means (Dhillon and Modha 2001).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.confidence import logistic
from tamarind.speech.diarisation.encoder import unit
from tamarind.speech.diarisation.windows import EmbeddedSpans

Floats = NDArray[np.float32]

MOST_IN_GRAPH = 400
MOST_IN_TREE = 1500
"""So many points, evenly taken, show the clusters; the tables grow with the square."""

FEWEST_FOR_GRAPH = 24

SAME_SOUND = 0.95
"""Points at least this alike are no neighbours that could tell something."""

LEAST_POINTS = 8
"""A voice with fewer points stays where it was known before. Of clusters that are cut anew, the
smallest has half as many, where there are enough."""

LEAST_OF_A_VOICE = 3
"""Two clusters are one if either has fewer points."""

TWO_WEIGHTS = (-12.773, -8.801, 0.182, 4.517, -10.814, 1.074, 2.745)
PAIR_WEIGHTS = (-8.492, -9.358, 0.226, 3.3, -13.929, -1.753, 2.725)
"""For ``_how_apart``: whether there are two voices rather than one, and whether two of more
clusters are two voices."""

SURELY_TWO, SURELY_A_PAIR = 0.6, 0.62
"""From such a likelihood on they are."""

PERHAPS = 0.2
"""Between this likelihood of two voices and what is as near to certain, there may be one or two."""

BETWEEN = 0.05
"""A point lies between two middles if it is nearer to one than to the other by less in cosine."""

PAUSE_MS = 250
"""Points of a saying follow one another with less of a pause."""

LEAST_SPREAD = 0.15
_HEAP_ROUNDS = 40
_NEIGHBOURHOODS = 12
_ROUNDS = 10
_SEEDS = 5


def voices_among(points: EmbeddedSpans, most: int, count: int | None = None) -> Floats:
    """Return the means (voices, width) of the voices, of length 1, most spoken first.

    There are ``count`` of them if it is given and there are as many points, else as many as there
    seem to be, at most ``most``.
    """
    return found_among(points, most, count).middles


@dataclass(frozen=True, slots=True)
class Clusters:
    """The ``middles`` (means) of the voices, and another likely number, 0 if it is clear."""

    middles: Floats
    perhaps: int = 0


def found_among(points: EmbeddedSpans, most: int, count: int | None = None) -> Clusters:
    """Return the voices among points, and whether the number is in doubt."""
    if not len(points):
        return Clusters(np.zeros((0, points.vectors.shape[1]), np.float32))
    tree = _Tree(_thinned(points, MOST_IN_TREE).vectors)
    graph = _graph(points, most) if len(points) >= FEWEST_FOR_GRAPH else None
    perhaps = 0
    if count is None:
        count = min(max(graph.count if graph else 2, 2), most, len(points))
        best = _without_halves(points, _best(points, tree, graph, count))
        if len(best) <= 2:
            best, perhaps = _one_or_two(points, _best(points, tree, graph, min(2, len(points))))
    else:
        best = _best(points, tree, graph, min(count, len(points)))
    spoken = np.bincount((points.vectors @ best.T).argmax(axis=1), minlength=len(best))
    return Clusters(np.asarray(best[np.argsort(-spoken, kind="stable")], np.float32), perhaps)


def count_of(points: EmbeddedSpans, most: int) -> int:
    """Return how many voices the neighbourhoods of the points suggest, before any are merged."""
    return _graph(points, most).count if len(points) >= FEWEST_FOR_GRAPH else 2


def _one_or_two(points: EmbeddedSpans, middles: Floats) -> tuple[Floats, int]:
    """Return two means, or one if they are of one voice; and the other number if it is in doubt."""
    if len(middles) < 2:
        return middles, 0
    labels = (points.vectors @ middles.T).argmax(axis=1)
    likely = _two_voices(points, labels, middles, 1, 0, TWO_WEIGHTS)
    is_unclear = PERHAPS < likely < 1 - PERHAPS
    if likely >= SURELY_TWO:
        return middles, 1 if is_unclear else 0
    return unit(points.vectors.mean(axis=0, keepdims=True)), 2 if is_unclear else 0


def followed(points: EmbeddedSpans, middles: Floats) -> Floats:
    """Return the means of known voices in other points; unchanged where they hardly speak."""
    moved = _settled(points.vectors, middles)
    own = np.bincount((points.vectors @ moved.T).argmax(axis=1), minlength=len(middles))
    return np.where((own >= LEAST_POINTS)[:, None], moved, middles)


def _best(points: EmbeddedSpans, tree: _Tree, graph: _Graph | None, count: int) -> Floats:
    """Return the means of the tightest clusters of so many; of one if all points are the same."""
    if count == 1:
        return unit(points.vectors.mean(axis=0, keepdims=True))
    starts = [tree.middles(count)]
    if graph is not None:
        starts.append(graph.middles(count))
    found = [_settled(points.vectors, start) for start in starts if len(start) == count]
    if not found:
        return unit(points.vectors.mean(axis=0, keepdims=True))
    return max(found, key=lambda middles: float((points.vectors @ middles.T).max(axis=1).sum()))


def _without_halves(points: EmbeddedSpans, middles: Floats) -> Floats:
    """Merge means that are two sides of one voice; at least two stay."""
    while len(middles) > 2:
        labels = (points.vectors @ middles.T).argmax(axis=1)
        pairs = [(one, other) for one in range(len(middles)) for other in range(one)]
        apart = [_two_voices(points, labels, middles, *pair, PAIR_WEIGHTS) for pair in pairs]
        least = int(np.argmin(apart))
        if apart[least] >= SURELY_A_PAIR:
            break
        pair = np.isin(labels, pairs[least])
        both = points.vectors[pair if pair.any() else slice(None)].mean(axis=0, keepdims=True)
        middles = np.concatenate([np.delete(middles, pairs[least], axis=0), unit(both)])
        middles = _settled(points.vectors, middles)
    return middles


def _two_voices(
    points: EmbeddedSpans,
    labels: NDArray[np.int64],
    middles: Floats,
    one: int,
    other: int,
    weights: Sequence[float],
) -> float:
    """Return the probability that two clusters are two voices."""
    if min((labels == one).sum(), (labels == other).sum()) < LEAST_OF_A_VOICE:
        return 0.0
    return logistic(weights, (1.0, *features_of(points, labels, middles, one, other)))


def features_of(
    points: EmbeddedSpans, labels: NDArray[np.int64], middles: Floats, one: int, other: int
) -> tuple[float, ...]:
    """Return the evidence on whether two of the clusters with these labels are two voices."""
    chosen = np.flatnonzero((labels == one) | (labels == other))
    own = EmbeddedSpans(points.vectors[chosen], points.spans[chosen])
    return _how_apart(own, labels[chosen] == one, middles[one], middles[other])


def _how_apart(
    points: EmbeddedSpans, mine: NDArray[np.bool_], one: Floats, other: Floats
) -> tuple[float, ...]:
    """Return the evidence on whether two clusters are two voices: how alike their means are; how
    far apart two heaps between them are; how far points are from those of the other cluster,
    relative to their own; the share of points between them; how much of the spread between them is
    within utterances; the number of points (natural log), since few are always far apart."""
    between = points.vectors @ (one - other)
    likely = np.abs(between) < BETWEEN
    between = between - between.mean()
    spread = max(float(between.var()), 1e-12)
    starts, ends = points.spans.T
    saying = np.cumsum([0, *(starts[1:] >= ends[:-1] + PAUSE_MS)])
    means = np.bincount(saying, between) / np.bincount(saying)
    within = 1 - float(means[saying].var()) / spread
    means_of = [points.vectors[side].mean(axis=0) for side in (mine, ~mine)]
    across = float(means_of[0] @ means_of[1])
    inside = min(float(middle @ middle) for middle in means_of)
    return (
        float(one @ other),
        _heaps_apart(between / spread**0.5),
        (1 - across) / max(1 - inside, 1e-6),
        float(np.mean(likely)),
        within,
        float(np.log(len(points))),
    )


def _heaps_apart(values: Floats) -> float:
    """Return how far apart two normal distributions in these values (of variance 1) are, in units
    of their own spread (Ashman et al. 1994)."""
    middles = np.asarray(np.quantile(values, (0.2, 0.8)), float)
    spreads, shares = np.array([0.6, 0.6]), np.array([0.5, 0.5])
    for _round in range(_HEAP_ROUNDS):
        densities = _densities(values, middles, spreads, shares)
        own = densities / np.maximum(densities.sum(axis=1, keepdims=True), 1e-30)
        weights = np.maximum(own.sum(axis=0), 1e-9)
        middles = (own * values[:, None]).sum(axis=0) / weights
        errors = (own * (values[:, None] - middles) ** 2).sum(axis=0)
        spreads, shares = np.maximum(np.sqrt(errors / weights), LEAST_SPREAD), weights / len(values)
    return float(abs(middles[1] - middles[0]) / np.sqrt(np.mean(spreads**2)))


def _densities(
    values: Floats, middles: NDArray[np.float64], spreads: NDArray[np.float64],
    shares: NDArray[np.float64],
) -> NDArray[np.float64]:  # fmt: skip
    z = (values[:, None] - middles) / spreads
    return np.asarray(shares / spreads * np.exp(-0.5 * z * z), float)


class _Tree:
    """Agglomerative clustering by mean distance (UPGMA, Sokal and Michener 1958)."""

    def __init__(self, vectors: Floats) -> None:
        from scipy.cluster.hierarchy import linkage  # slow to import, and not always needed

        self._vectors = vectors
        self._merges = linkage(vectors, "average", "cosine") if len(vectors) > 1 else None

    def middles(self, count: int) -> Floats:
        """Return the means of the ``count`` largest clusters of a cut that leaves no tiny ones
        among them."""
        labels = self._labels(count)
        for clusters in range(count, min(8 * count, len(self._vectors)) + 1):
            labels = self._labels(clusters)
            sizes = np.sort(np.bincount(labels))[::-1]
            if len(sizes) >= count and sizes[count - 1] >= LEAST_POINTS / 2:
                break
        sizes = np.bincount(labels)
        largest = [label for label in np.argsort(-sizes, kind="stable")[:count] if sizes[label]]
        return _middles(self._vectors, [labels == label for label in largest])

    def _labels(self, clusters: int) -> NDArray[np.int64]:
        from scipy.cluster.hierarchy import fcluster

        if self._merges is None:
            return np.zeros(len(self._vectors), np.int64)
        return np.asarray(fcluster(self._merges, clusters, "maxclust"), np.int64) - 1


@dataclass(frozen=True, slots=True)
class _Graph:
    """The neighbourhood graph in which clusters are clearest: its number of clusters, its points,
    and the eigenvectors (points, most) of its Laplacian, sorted by value."""

    count: int
    vectors: Floats
    embedding: NDArray[np.float64]

    def middles(self, count: int) -> Floats:
        """Return the means of clusters in the space of the first ``count`` eigenvectors."""
        from scipy.cluster.vq import kmeans2

        space = self.embedding[:, :count]
        best, least = np.zeros(len(space), np.int64), np.inf
        for seed in range(_SEEDS):
            middles, labels = kmeans2(space, count, minit="++", seed=seed, missing="warn")
            spread = float(np.sum((space - middles[labels]) ** 2))
            if spread < least and len(np.unique(labels)) == count:
                best, least = labels, spread
        return _middles(self.vectors, [best == label for label in np.unique(best)])


def _graph(points: EmbeddedSpans, most: int) -> _Graph:
    """Try neighbourhoods of many sizes; small ones that separate the points clearly are best."""
    few = _thinned(points, MOST_IN_GRAPH)
    count = len(few)
    likeness = few.vectors @ few.vectors.T
    starts, ends = few.spans.T
    overlap = (starts[:, None] < ends[None]) & (starts[None] < ends[:, None])
    likeness[overlap | (likeness > SAME_SOUND)] = -1.0
    nearest = np.argsort(-likeness, axis=1)
    smallest, largest = max(3, count // 40), max(5, count // 4)
    best: tuple[float, _Graph] | None = None
    for size in np.unique(np.linspace(smallest, largest, _NEIGHBOURHOODS).round().astype(int)):
        joins = np.zeros((count, count))
        np.put_along_axis(joins, nearest[:, :size], 1.0, axis=1)
        joins = (joins + joins.T) / 2
        values, vectors = np.linalg.eigh(np.diag(joins.sum(axis=1)) - joins)
        gaps = np.diff(values[: most + 1])
        clearness = float(gaps.max()) / max(float(values[-1]), 1e-9)
        ratio = size / count / max(clearness, 1e-9)
        if best is None or ratio < best[0]:
            best = ratio, _Graph(int(gaps.argmax()) + 1, few.vectors, vectors[:, :most])
    assert best is not None
    return best[1]


def _settled(vectors: Floats, middles: Floats) -> Floats:
    """Run spherical k-means from these means."""
    for _round in range(_ROUNDS):
        labels = (vectors @ middles.T).argmax(axis=1)
        sums = np.stack([
            vectors[labels == place].sum(axis=0) if np.any(labels == place) else middle
            for place, middle in enumerate(middles)
        ])  # fmt: skip
        moved = unit(sums)
        if np.allclose(moved, middles, atol=1e-5):
            break
        middles = moved
    return middles


def _thinned(points: EmbeddedSpans, most: int) -> EmbeddedSpans:
    if len(points) <= most:
        return points
    chosen = np.linspace(0, len(points) - 1, most).round().astype(int)
    return EmbeddedSpans(points.vectors[chosen], points.spans[chosen])


def _middles(vectors: Floats, members: list[NDArray[np.bool_]]) -> Floats:
    return unit(np.stack([vectors[own].mean(axis=0) for own in members]))
