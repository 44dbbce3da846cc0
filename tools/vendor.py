"""Refreshes src/hailstone/static/vendor from npm packages, with name, version and licence listed.

Run `make vendor` after changing a version below; it uses the npm client as it is set up.
"""

from __future__ import annotations

import json
import shutil
import subprocess
import tarfile
import tempfile
from pathlib import Path

TARGET = Path(__file__).resolve().parents[1] / "src/hailstone/static/vendor"

FONT = "files/barlow-semi-condensed-latin-{weight}-normal.woff2"
PACKAGES: dict[str, tuple[str, list[str]]] = {
    "htmx.org": ("2.0.11", ["dist/htmx.min.js"]),
    "bootstrap": ("5.3.9", ["dist/css/bootstrap.min.css"]),
    "@fontsource/barlow-semi-condensed": (
        "5.3.0",
        [FONT.format(weight=weight) for weight in (400, 500, 600)],
    ),
}


def main() -> None:
    shutil.rmtree(TARGET, ignore_errors=True)
    TARGET.mkdir(parents=True)
    rows = ["package,version,licence,file"]
    for name, (version, wanted) in PACKAGES.items():
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
                _copy(package / file, TARGET / Path(file).name)
                rows.append(f"{name},{version},{licence},{Path(file).name}")
            short = name.split("/")[-1]
            _copy(package / "LICENSE", TARGET / f"LICENSE-{short}.txt")
    (TARGET / "packages.csv").write_text("\n".join(rows) + "\n")
    print(f"{TARGET.name}: {len(rows) - 1} files")


def _copy(source: Path, target: Path) -> None:
    """Copy a file, without the pointer to a source map that is not shipped."""
    data = source.read_bytes()
    if source.suffix in (".css", ".js"):
        lines = data.decode().splitlines()
        data = "\n".join(line for line in lines if "sourceMappingURL" not in line).encode() + b"\n"
    target.write_bytes(data)


if __name__ == "__main__":
    main()
