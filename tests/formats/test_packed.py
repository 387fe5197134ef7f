"""Arrays kept as bytes: they come back to the bit, and bytes that aren't such are refused, since they come in with
project files."""

from __future__ import annotations

import json
import random
import unittest
from typing import Any

import numpy as np

from sandscale.core.refusals import Refusal
from sandscale.formats.packed import pack, unpack

ARRAYS = {
    "points": np.array([[2400.125, 5100.5, np.nan], [1e-300, -0.0, np.inf]]),
    "rows": np.array([7, -9], np.int64), "triangles": np.zeros((0, 3), np.int32), "used": np.array([1, 0], np.uint8),
}  # fmt: skip


def with_header(header: Any, rest: bytes = b"", size: int | None = None) -> bytes:
    told = json.dumps(header).encode()
    return b"SSPK1\n" + (len(told) if size is None else size).to_bytes(4, "little") + told + rest


class Packed(unittest.TestCase):
    def test_what_was_packed_comes_back_to_the_bit(self) -> None:
        arrays, words = unpack(pack(ARRAYS, {"codes": ["crest", "Böschung"], "deep": {"a": [1, None]}}))
        self.assertEqual(words, {"codes": ["crest", "Böschung"], "deep": {"a": [1, None]}})
        self.assertEqual(list(arrays), list(ARRAYS))
        for name, array in ARRAYS.items():
            self.assertEqual((arrays[name].dtype, arrays[name].shape), (array.dtype, array.shape))
            self.assertEqual(arrays[name].tobytes(), array.tobytes())

    def test_a_part_of_an_array_is_packed_as_it_is_seen(self) -> None:
        part = np.arange(24, dtype=np.float64).reshape(4, 6)[::2, 1::2]
        np.testing.assert_array_equal(unpack(pack({"part": part}))[0]["part"], part)

    def test_bytes_that_say_what_they_do_not_hold_are_refused(self) -> None:
        good = pack(ARRAYS, {"codes": ["x"]})
        header: dict[str, Any] = {"arrays": {"a": ["<f8", [2]]}, "words": {}}
        spoilt = {
            "nothing": b"", "its name only": good[:6], "another's": b"PK\x03\x04" + good, "cut off": good[:-1],
            "more than it says": good + b"x", "a header longer than itself": with_header(header, bytes(16), 10_000),
            "no JSON": b"SSPK1\n\x03\x00\x00\x00{a}", "not UTF-8": b"SSPK1\n\x02\x00\x00\x00\xff\xfe",
            "a list": with_header([1]), "no arrays": with_header({"words": {}}), "no words": with_header({"arrays": {}}),
            "words that are none": with_header({"arrays": {}, "words": 3}), "objects": with_header({**header, "arrays": {"a": ["|O", [1]]}}, bytes(8)),
            "below zero": with_header({**header, "arrays": {"a": ["<f8", [-1]]}}, bytes(8)),
            "half a row": with_header({**header, "arrays": {"a": ["<f8", [1.5]]}}, bytes(12)),
            "true": with_header({**header, "arrays": {"a": ["<f8", [True]]}}, bytes(8)),
            "more than there is": with_header({**header, "arrays": {"a": ["<f8", [2**62, 2**62]]}}, bytes(16)),
            "many axes": with_header({**header, "arrays": {"a": ["|u1", [1] * 40]}}, bytes(1)),
            "a deep header": b"SSPK1\n" + (100_000).to_bytes(4, "little") + b"[" * 100_000,
            "a kind of its own": with_header({**header, "arrays": {"a": [["<f8"], [1]]}}, bytes(8)),
        }  # fmt: skip
        for name, content in spoilt.items():
            with self.subTest(name), self.assertRaises(Refusal):
                unpack(content)

    def test_spoilt_anywhere_it_is_refused_or_whole(self) -> None:
        good, dice = pack(ARRAYS, {"codes": ["crest"]}), random.Random(14)
        for _ in range(800):
            content = bytearray(good)
            for _ in range(dice.randint(1, 3)):
                content[dice.randrange(len(content))] = dice.randrange(256)
            try:
                arrays, words = unpack(bytes(content))
            except Refusal as refusal:
                self.assertEqual(refusal.sentence, "Levels that were kept can't be read again.")
            else:
                self.assertIsInstance(words, dict)
                self.assertEqual(
                    sum(a.nbytes for a in arrays.values()), sum(a.nbytes for a in ARRAYS.values())
                )


if __name__ == "__main__":
    unittest.main()
