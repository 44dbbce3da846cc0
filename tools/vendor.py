"""Refreshes what is vendored from npm packages, with name, version and licence listed.

src/hailstone/static/vendor is shipped, tests/e2e/vendor is for the tests alone.

Run `make vendor` after changing a version below; it uses the npm client as it is set up.
"""

from __future__ import annotations

import json
import shutil
import subprocess
import tarfile
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SHIPPED, FOR_TESTS = ROOT / "src/hailstone/static/vendor", ROOT / "tests/e2e/vendor"

FONT = "files/barlow-semi-condensed-latin-{weight}-normal.woff2"
Packages = dict[str, tuple[str, list[str]]]
PACKAGES: Packages = {
    "htmx.org": ("2.0.11", ["dist/htmx.min.js"]),
    "bootstrap": ("5.3.9", ["dist/css/bootstrap.min.css"]),
    "@fontsource/barlow-semi-condensed": (
        "5.3.0",
        [FONT.format(weight=weight) for weight in (400, 500, 600)],
    ),
}


TEST_PACKAGES: Packages = {"axe-core": ("4.14.1", ["axe.min.js"])}


def main() -> None:
    vendor(SHIPPED, PACKAGES)
    vendor(FOR_TESTS, TEST_PACKAGES)


def vendor(target: Path, packages: Packages) -> None:
    """Fetch some files of some packages into an empty folder, with their licences and a list."""
    shutil.rmtree(target, ignore_errors=True)
    target.mkdir(parents=True)
    rows = ["package,version,licence,file"]
    for name, (version, wanted) in packages.items():
        with tempfile.TemporaryDirectory() as folder:
            packed = subprocess.run(
                ["npm", "pack", "--silent", f"{name}@{version}"],
                cwd=folder,
                check=True,
                capture_output=True,
                text=True,
            )
            with tarfile.open(Path(folder) / packed.stdout.strip().splitlines()[-1]) as archive:
                archive.extractall(folder, filter="data")
            package = Path(folder) / "package"
            licence = json.loads((package / "package.json").read_text())["license"]
            for file in wanted:
                _copy(package / file, target / Path(file).name)
                rows.append(f"{name},{version},{licence},{Path(file).name}")
            short = name.split("/")[-1]
            _copy(package / "LICENSE", target / f"LICENSE-{short}.txt")
    (target / "packages.csv").write_text("\n".join(rows) + "\n")
    print(f"{target.name}: {len(rows) - 1} files")


def _copy(source: Path, target: Path) -> None:
    """Copy a file, without the pointer to a source map that is not shipped."""
    data = source.read_bytes()
    if source.suffix in (".css", ".js"):
        lines = data.decode().splitlines()
        data = "\n".join(line for line in lines if "sourceMappingURL" not in line).encode() + b"\n"
    target.write_bytes(data)


if __name__ == "__main__":
    main()
