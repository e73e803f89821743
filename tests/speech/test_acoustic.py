"""The acoustic model and the search for the best way, against slow and plain reckoning."""

import itertools
import unittest

import numpy as np

from tamarind.audio import soundcache
from tamarind.speech.acoustic.chain import PAUSE, Chain, chain_of
from tamarind.speech.acoustic.features import BANDS, CEPSTRA, features
from tamarind.speech.acoustic.model import SILENCE, STATES, AcousticModel
from tamarind.speech.acoustic.viterbi import best_ways
from tests.support import FolderTest, human_recording


def reckoned(chain, scores):
    """The score of the best way by trying out every way through the states."""
    before = {first: (exits, cost) for first, exits, cost in chain.entries}
    starts = dict(chain.starts)
    best = -np.inf
    for way in itertools.product(range(len(chain.senones)), repeat=len(scores)):
        if way[0] not in starts or way[-1] not in chain.ends:
            continue
        total = scores[0][way[0]] - starts[way[0]]
        for step, (a, b) in enumerate(itertools.pairwise(way), 1):
            if a == b:
                total += chain.stay[a]
            elif b in before and a in before[b][0]:
                total += chain.leave[a] - before[b][1]
            elif b == a + 1 and b not in before and b not in starts:
                total += chain.leave[a]
            else:
                break
            total += scores[step][b]
        else:
            best = max(best, total + chain.leave[way[-1]])
    return best


def scored(chain, scores, way):
    before = {first: cost for first, _, cost in chain.entries}
    total = scores[0][way[0]] - dict(chain.starts)[way[0]] + chain.leave[way[-1]]
    for step, (a, b) in enumerate(itertools.pairwise(way), 1):
        total += (chain.stay[a] if a == b else chain.leave[a] - before.get(b, 0.0)) + scores[step][
            b
        ]
    return total


class Ways(unittest.TestCase):
    def setUp(self):
        self.random = np.random.default_rng(3)

    def small(self, states, entries, starts, ends):
        log = np.log(self.random.uniform(0.1, 0.9, (2, states)))
        return Chain(list(range(states)), log[0].tolist(), log[1].tolist(), forms=[0] * states,
                     starts=starts, ends=ends, entries=entries)  # fmt: skip

    def test_the_best_way_is_found_among_all(self):
        forks = self.small(5, [(2, [1], 0.3), (3, [1], 0.1), (4, [2, 3], 0.0)], [(0, 0.2)], [4])
        chains = [forks, self.small(3, [], [(0, 0.0), (1, 0.5)], [2])]
        scores = [self.random.normal(0, 2, (7, 5)), self.random.normal(0, 2, (5, 3))]
        ways = best_ways(chains, [s.astype(np.float32) for s in scores])
        for chain, own, way in zip(chains, scores, ways, strict=True):
            self.assertAlmostEqual(scored(chain, own, way), reckoned(chain, own), places=4)

    def test_more_states_than_steps_have_no_way(self):
        chain = self.small(4, [], [(0, 0.0)], [3])
        (way,) = best_ways([chain], [np.zeros((3, 4), np.float32)])
        self.assertIsNone(way)


class Model(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.model = AcousticModel()

    def test_scores_are_those_of_the_mixtures_summed_one_by_one(self):
        frames = np.random.default_rng(1).normal(0, 8, (5, 39)).astype(np.float32)
        senones = self.model.senones_alone(self.model.phone("AH"))
        scores, anything = self.model.scores(frames, senones)
        gaussians = self.model.gaussians[self.model.phone("AH")].astype(float)
        for step, place in itertools.product((0, 2, 4), range(STATES)):
            total = 0.0
            for stream in range(3):
                x = frames[step, 13 * stream : 13 * stream + 13].astype(float)
                logs = gaussians[stream] @ np.concatenate([x * x, x, [1.0]])
                weights = self.model.weights[stream, senones[place]]
                total += np.log(np.sum(weights * np.exp(logs - logs.max()))) + logs.max()
            self.assertAlmostEqual(scores[step, place], total, delta=1e-2 * abs(total))
        np.testing.assert_allclose(scores[1], (scores[0] + scores[2]) / 2, rtol=1e-5)
        self.assertTrue((anything >= scores.max(axis=1) - 1e-3).all())
        even, _ = self.model.scores(frames[:4], senones)
        np.testing.assert_allclose(even[3], scores[2], rtol=1e-5)

    def test_a_phone_sounds_by_its_neighbours(self):
        p, ah, t, k = (self.model.phone(name) for name in ("P", "AH", "T", "K"))
        inside = self.model.senones(ah, p, t, False, False)
        self.assertNotEqual(list(inside), list(self.model.senones(ah, k, k, False, False)))
        self.assertEqual(len(inside), STATES)

    def test_a_chain_has_every_way_to_say_its_words_and_pauses_between(self):
        forms = [[("DH", "AH"), ("DH", "IY")], [("B", "AA", "G")]]
        chain = chain_of(self.model, forms, [False, True])
        self.assertEqual(chain.forms.count(0), 2 * 2 * STATES)
        self.assertEqual(chain.forms.count(1), 3 * STATES)
        self.assertEqual(chain.forms.count(PAUSE), 3 * 2 * STATES)
        last = max(place for place, form in enumerate(chain.forms) if form == 1)
        self.assertIn(last, chain.ends)


class Features(FolderTest):
    def test_a_silence_of_zeros_sounds_like_a_pause_and_not_like_a_phone(self):
        model = AcousticModel()
        said = np.array(soundcache.fetch(human_recording("beckett.wav")).samples())[:48_000]
        sound = np.concatenate([said, np.zeros(16_000, np.float32), said])
        (frames,) = features([sound])
        pause = model.senones_alone(model.phone(SILENCE))
        scores, anything = model.scores(frames, pause)
        inside = slice(320, 390)
        self.assertLess(np.median(anything[inside] - scores[inside].max(axis=1)), 1.0)

    def test_a_step_every_ten_milliseconds_whatever_the_length(self):
        for length in (0, 1, 159, 160, 16_000):
            (frames,) = features([np.full(length, 0.1, np.float32)])
            self.assertEqual(frames.shape, (max(length // 160, 1), 3 * CEPSTRA))
            self.assertTrue(np.isfinite(frames).all())

    def test_loudness_and_company_do_not_change_them(self):
        random = np.random.default_rng(0)
        sound = (random.standard_normal(16_000) * np.hanning(16_000)).astype(np.float32) * 0.1
        (alone,) = features([sound])
        _, beside = features([np.tile(sound, 2), sound])
        np.testing.assert_allclose(alone, beside, atol=1e-3)
        (louder,) = features([sound * 2])
        self.assertLess(np.abs(louder - alone).mean(), 0.15 * np.abs(alone).mean())
        self.assertGreater(BANDS, CEPSTRA)
