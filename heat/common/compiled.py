"""The one door to numba: where compiled code is kept, and how kernels are declared.

numba's disk cache does not notice a change in a function called from another module and
would then return old numbers. The cache folder is therefore named after a hash of every
source file a kernel could call or read, numba's version and Python's.
"""

import hashlib
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numba

from heat.common.documents import Values

PACKAGE = Path(__file__).parents[1]

ABOVE = ("studies", "monitoring", "economics", "sizing", "cli.py", "library.py", "__init__.py", "catalogue.py")
"""Parts of the core above the year's loop: they hold no kernels, and none may import them (import-linter)."""


def source_hash(above: bool = True) -> str:
    """Hash (16 hex digits) of the core's sources, numba's and Python's versions.

    Parameters
    ----------
    above
        Whether the modules above the kernels count too.

    Returns
    -------
    str
        Hash (16 hex digits).
    """
    digest = hashlib.sha256(f"{numba.__version__} {sys.version}".encode())
    for path in sorted(PACKAGE.rglob("*.py")):
        inside = path.relative_to(PACKAGE).parts
        if "tests" not in inside and (above or inside[0] not in ABOVE):
            digest.update(path.relative_to(PACKAGE).as_posix().encode())
            digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


def cache_folder() -> Path:
    """Folder of compiled kernels: below ``HEAT_CACHE_DIR``, else the user's cache (no unit)."""
    base = os.environ.get("HEAT_CACHE_DIR")
    root = Path(base) if base else Path.home() / ".cache" / "heat"
    return root / source_hash(above=False)


setattr(numba.config, "CACHE_DIR", str(cache_folder()))  # noqa: B010 - unknown to its type stubs
# A store has some twenty segments: loops made for wide registers spend more on getting ready than they save (a tenth
# of a plain year), and take longer to compile.
setattr(numba.config, "LOOP_VECTORIZE", 0)  # noqa: B010
setattr(numba.config, "SLP_VECTORIZE", 0)  # noqa: B010


# no "nnan" and "ninf": a kernel may meet the missing values of a weather file and must not guess that there are none
OPTIONS: Values = {
    "cache": True,
    "nogil": True,
    "_nrt": False,
    "error_model": "numpy",
    "fastmath": {"reassoc", "contract", "arcp", "nsz"},
}


def inline_kernel(function: Callable[..., Any]) -> Callable[..., Any]:
    """As :func:`kernel`, written into its callers by the compiler.

    For the small steps of the year's loop: a call there would hand over every part of the system.

    Parameters
    ----------
    function
        The function to compile.

    Returns
    -------
    Callable[..., Any]
        The function, to be written into its callers by the compiler.
    """
    compiled: Callable[..., Any] = numba.njit(**OPTIONS, forceinline=True)(function)
    return compiled


def section(function: Callable[..., Any]) -> Callable[..., Any]:
    """A part of one kernel that stands by itself for the reader: written into it before anything is compiled.

    Unlike an :func:`inline_kernel` it is never compiled for itself, so that a long kernel may be read in short
    parts.

    Parameters
    ----------
    function
        The function to compile.

    Returns
    -------
    Callable[..., Any]
        The function, to be written into its callers.
    """
    compiled: Callable[..., Any] = numba.njit(**OPTIONS, inline="always")(function)
    return compiled


def kernel(function: Callable[..., Any]) -> Callable[..., Any]:
    """Compile ``function`` without the interpreter lock, cached on disk.

    ``error_model="numpy"``: a division by zero gives inf or nan as in numpy; kernels guard their denominators
    themselves. Sums may be reordered, NaN and infinity keep their meaning. ``_nrt=False``: kernels allocate nothing
    and count no references to arrays; whatever room they need is passed in.

    Parameters
    ----------
    function
        The function to compile.

    Returns
    -------
    Callable[..., Any]
        The compiled function.
    """
    compiled: Callable[..., Any] = numba.njit(**OPTIONS)(function)
    return compiled
