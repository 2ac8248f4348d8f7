"""A page is made anew for what it showed, and for nothing else."""

from __future__ import annotations

import unittest
from unittest import mock

from tests.ui.base import WindowTest
from zombrel.job.edits import Put


class Repaint(WindowTest):
    def edit(self, path: str, value: object) -> None:
        self.assertTrue(self.session.do(path, Put(path=path, value=value)))
        self.settle()

    def test_only_for_what_it_showed(self) -> None:
        for where, page, show, other, shown in (
            ("wire:power", "power", "_show_tree", ("vehicle.owner", "x"), ("feeds.F7.load_a", 5.0)),
            (
                "wire:plan",
                "plan",
                "_show_side",
                ("devices.pace.settings.SPEED.at", "C3"),
                ("house.tail_m", 0.4),
            ),
            (
                "wire:faces",
                "faces",
                "_show_right",
                ("vehicle.mass_kg", 1300.0),
                ("connectors.D2.key", "the hinge end"),
            ),
            (
                "prove",
                "",
                "_show_steps",
                ("wires.W1.colour", "pink"),
                ("feeds.F7.name", "Slot seven"),
            ),
            (
                "survey",
                "",
                "_show_devices",
                ("vehicle.mass_kg", 1310.0),
                ("devices.pace.name", "Pacer"),
            ),
            (
                "survey",
                "",
                "_show_sources",
                ("vehicle.mass_kg", 1320.0),
                ("sources.ring.name", "Ring"),
            ),
        ):
            made = self.go(where)
            at = made.page(page) if page else made
            with self.subTest(where, show=show):
                with mock.patch.object(type(at), show, autospec=True) as painted:
                    self.edit(*other)
                    self.assertEqual(painted.call_count, 0, other)
                self.edit(*shown)
                with mock.patch.object(type(at), show, autospec=True) as painted:
                    at.refresh()
                    self.assertEqual(painted.call_count, 0, "it was painted already")
                    self.session.undo()
                    self.settle()
                    self.assertEqual(painted.call_count, 1, shown)


if __name__ == "__main__":
    unittest.main()
