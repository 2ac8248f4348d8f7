"""The project itself: the demo can be remade, pictures and links exist, the launcher knows Qt."""

from __future__ import annotations

import ast
import importlib.util
import os
import re
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from tests.demo import demo
from tools.bench.speed import _assess
from tools.bench.synthetic import big_job
from zombrel.catalog import DATA, DEMO
from zombrel.job.validate import validate

ROOT = Path(__file__).resolve().parents[2]


def shell(script: str, **env: str) -> subprocess.CompletedProcess[str]:
    """Run a line of shell with the launcher's functions loaded."""
    return subprocess.run(
        ["sh", "-c", f". {ROOT}/tools/setup.sh; {script}"],
        capture_output=True,
        text=True,
        env={**os.environ, **env},
        check=False,
    )


class Demo(unittest.TestCase):
    def test_the_script_makes_exactly_what_is_shipped(self) -> None:
        spec = importlib.util.spec_from_file_location("make_demo", ROOT / "tools/make_demo.py")
        assert spec is not None
        assert spec.loader is not None
        script = importlib.util.module_from_spec(spec)
        spec.loader.exec_module(script)
        # the script writes numbers as typed; the shipped job has them as read back
        self.assertEqual(script.csv_log(), (DEMO / "0412-road.csv").read_text())
        self.assertEqual(
            script.nmea_log().splitlines(), (DEMO / "0412-road.nmea").read_text().splitlines()
        )
        from zombrel.store.zjob import from_bytes, load, to_bytes

        for made in (script.job_0412.job(), script.job_0413.job(), script.job_0409.job()):
            with self.subTest(made.number):
                shipped = load(DEMO / f"{made.number}.zjob")
                self.assertEqual(from_bytes(to_bytes(made)), shipped)
                self.assertTrue(shipped.synthetic)

    def test_it_says_it_is_made_up(self) -> None:
        self.assertTrue(demo().synthetic)
        for name in ("0412-road.csv", "0412-road.nmea"):
            self.assertIn("synthetic", (DEMO / name).read_text().splitlines()[0])

    def test_scenario_facts(self) -> None:
        v = demo().vehicle
        self.assertEqual((v.tyre, v.final_drive, v.mass_kg), ("205/60 R15", 3.64, 1290))
        self.assertEqual(v.ratios, (3.42, 2.05, 1.39, 1.0, 0.79))
        self.assertEqual(
            {d.sheet.model for d in demo().devices}, {"P7", "G6", "S4", "L2", "B3", "E5"}
        )


class Project(unittest.TestCase):
    def files(self) -> list[Path]:
        """Every file of the project, none of what a run leaves behind."""
        left = {
            ".git",
            ".venv",
            "__pycache__",
            ".mypy_cache",
            ".ruff_cache",
            ".hypothesis",
            ".import_linter_cache",
        }
        return [p for p in ROOT.rglob("*") if p.is_file() and not left & set(p.parts)]

    def test_every_picture_of_the_readme_exists_and_is_current_in_number(self) -> None:
        text = (ROOT / "README.md").read_text()
        linked = set(re.findall(r"\((docs/screenshots/[^)]+)\)", text))
        there = {f"docs/screenshots/{p.name}" for p in (ROOT / "docs/screenshots").glob("*.png")}
        self.assertEqual(linked, there)
        self.assertLess(len(there), 20)

    def test_no_registry_host_is_named(self) -> None:
        hosts = re.compile(r"pypi\.|pythonhosted|debian\.org|npmjs|registry\.")
        for path in self.files():
            if path.suffix in (".png", ".otf", ".zjob") or path == Path(__file__).resolve():
                continue
            if path.name == "LICENCE-B612.txt":
                continue  # names the home of its own format
            self.assertIsNone(hosts.search(path.read_text(errors="replace")), path)

    def test_every_lock_line_has_its_hashes(self) -> None:
        for name in ("requirements.lock", "requirements-dev.lock"):
            text = (ROOT / name).read_text()
            pins = re.findall(r"^([a-z0-9-]+)==", text, re.M)
            self.assertGreater(len(pins), 5)
            blocks = re.split(r"^(?=[a-z0-9-]+==)", text, flags=re.M)[1:]
            for block in blocks:
                self.assertIn("--hash=sha256:", block, block[:40])

    def test_fonts_come_with_their_licence(self) -> None:
        fonts = ROOT / "src/zombrel/ui/assets/fonts"
        self.assertEqual(len(list(fonts.glob("*.otf"))), 4)
        self.assertIn("SIL OPEN FONT LICENSE", (fonts / "LICENCE-B612.txt").read_text())

    def test_schemas_are_beside_the_data(self) -> None:
        for name in ("sheet.schema.json", "job.schema.json"):
            self.assertTrue((DATA / name).is_file())


class Launcher(unittest.TestCase):
    def test_it_finds_a_python_that_will_do(self) -> None:
        done = shell("zombrel_python")
        version = subprocess.run(
            [done.stdout.strip(), "-V"], capture_output=True, text=True, check=False
        ).stdout
        self.assertRegex(version, r"Python 3\.1[123]")

    def test_every_library_qt_wants_has_its_package(self) -> None:
        """What the Qt plug-ins link to, but neither Qt nor libc brings, is known by name."""
        qt = Path(sys.prefix) / f"lib/python3.{sys.version_info[1]}/site-packages/PySide6"
        wanted = set()
        for name in (
            "QtWidgets.abi3.so",
            "Qt/lib/libQt6XcbQpa.so.6",
            "Qt/plugins/platforms/libqxcb.so",
        ):
            done = subprocess.run(
                ["ldd", str(qt / name)], capture_output=True, text=True, check=False
            )
            wanted |= set(re.findall(r"^\s*(lib\S+\.so[.\d]*) =>", done.stdout, re.M))
        base = re.compile(
            r"lib(Qt6|pyside|shiboken|c|m|dl|pthread|rt|util|gcc_s|stdc\+\+|python|icu|bsd|md|"
            r"pcre|Xau|Xdmcp|expat|png|brotli|bz2|uuid|systemd|cap|gcrypt|lzma|lz4|gpg|GLdispatch"
            r"|zstd|z|resolv|ffi|mount|blkid|selinux)[-.\w+]*\.so"
        )
        self.assertTrue(wanted)
        for library in wanted:
            if not base.match(library):
                with self.subTest(library):
                    self.assertTrue(shell(f"zombrel_package_of {library}").stdout.strip())

    def test_without_root_it_prints_the_command(self) -> None:
        script = "id() { echo 1000; }; zombrel_system libegl1 libgl1"
        done = shell(script)
        self.assertNotEqual(done.returncode, 0)
        self.assertIn("sudo apt-get install -y libegl1 libgl1", done.stderr)
        self.assertEqual(done.stdout, "")

    def test_system_packages_want_a_yes_unless_nobody_can_be_asked(self) -> None:
        for who, more, may in (("0", "", True), ("1000", "", False), ("1000", "1", False)):
            stubs = f"id() {{ echo {who}; }}; command() {{ return 0; }}"
            script = f"{stubs}; zombrel_may_install x </dev/null"
            with self.subTest(who=who, yes=more):
                self.assertEqual(shell(script, ZOMBREL_YES=more).returncode == 0, may)

    def test_of_two_first_starts_one_makes_the_environment(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            (folder / "x.lock").write_text("")
            os.utime(folder / "x.lock", (1, 1))
            make = (
                "zombrel_make() { mkdir $1/made || exit 3; sleep 0.2; : >$1/.venv/ready-$2; }; "
                f"zombrel_ready {folder} x.lock & zombrel_ready {folder} x.lock; wait $!"
            )
            self.assertEqual(shell(make).returncode, 0)  # mkdir fails the second time

    def test_a_ready_environment_is_not_touched(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            (folder / ".venv").mkdir()
            (folder / "x.lock").write_text("")
            os.utime(folder / "x.lock", (1, 1))
            (folder / ".venv/ready-x.lock").write_text("")
            done = shell(f"zombrel_ready {folder} x.lock && echo ready")
            self.assertEqual((done.stdout.strip(), done.stderr), ("ready", ""))


class Docstrings(unittest.TestCase):
    """Every numeric public function of the core says its units and its formula's source."""

    def test_units_and_sources_are_said(self) -> None:
        numeric = re.compile(r"float|Floats|float \| None|Pairs|Curve|NDArray.*")
        said = re.compile(r"\[[^\]]{1,50}\]|Ω|Hz|%|°")
        sourced = re.compile(
            r"References?:|\[\d\]|ASSUMED|\(assumption\)|\b(ISO|IEC|SAE|DIN|ETRTO|EN|NIST) ?\d*|"
            r"ch\. \d|ITS-90|[Dd]efinition"
        )
        checked = 0
        for package in ("units", "calibrate", "signals", "harness", "behaviour", "diagnose"):
            for path in sorted((ROOT / "src" / "zombrel" / package).rglob("*.py")):
                tree = ast.parse(path.read_text(encoding="utf-8"))
                whole = ast.get_docstring(tree) or ""
                for f in tree.body:
                    if not isinstance(f, ast.FunctionDef) or f.name.startswith("_"):
                        continue
                    kinds = [a.annotation for a in f.args.args] + [f.returns]
                    if not any(k and numeric.fullmatch(ast.unparse(k)) for k in kinds):
                        continue
                    checked += 1
                    with self.subTest(f"{path.name}:{f.name}"):
                        self.assertRegex(ast.get_docstring(f) or "", said)
                        self.assertRegex(f"{whole} {ast.get_docstring(f)}", sourced)
        self.assertGreater(checked, 100)


class Bench(unittest.TestCase):
    def test_the_synthetic_job_has_its_size_and_is_sound(self) -> None:
        job = validate(big_job())
        self.assertEqual((len(job.chains), len(job.wires)), (200, 500))
        small = big_job(10, 40)
        self.assertEqual((len(small.chains), len(small.wires)), (10, 40))

    def test_every_figure_has_unit_and_target(self) -> None:
        for figure in _assess(1):
            self.assertTrue(figure.name)
            self.assertGreater(figure.ratio, 0)
            self.assertGreater(figure.ms, 0)
            self.assertEqual(figure.unit, "loops")
            self.assertIn(figure.target, (0.1, 0.4, 1.25, 3.75))


class Pictures(unittest.TestCase):
    def test_the_script_takes_every_main_view(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            done = subprocess.run(
                [sys.executable, "-m", "tools.screenshots", folder],
                cwd=ROOT,
                capture_output=True,
                text=True,
                check=False,
            )
            self.assertEqual(done.returncode, 0, done.stderr)
            taken = {p.name for p in Path(folder).glob("*.png")}
            kept = {p.name for p in (ROOT / "docs/screenshots").glob("*.png")}
            self.assertEqual(taken, kept)
            for path in Path(folder).glob("*.png"):
                self.assertGreater(path.stat().st_size, 15_000, path.name)


if __name__ == "__main__":
    unittest.main()
