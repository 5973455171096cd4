"""python -m niddy."""

from __future__ import annotations

import errno
import sys


def main() -> None:
    """Run a command; what goes wrong outside of it is one line that says what to do."""
    try:
        from niddy.cli import app
        from niddy.operations.errors import OperationError

        try:
            app(prog_name="./niddy")
        except OperationError as error:
            sys.exit(f"niddy: {error}")
    except KeyboardInterrupt:
        print("niddy: interrupted before it was done; nothing half-made counts", file=sys.stderr)
        sys.exit(130)
    except OSError as error:
        sys.exit(f"niddy: {_words(error)}")


def _words(error: OSError) -> str:
    where = f" {error.filename}" if error.filename else ""
    if error.errno in (errno.EROFS, errno.EACCES, errno.EPERM):
        return f"may not write{where}; choose another folder with NIDDY_HOME, or another file"
    if error.errno in (errno.ENOSPC, errno.EDQUOT, errno.EFBIG):
        return f"no room left on the disk{' for' + where if where else ''}; nothing that was there is lost"
    if error.errno in (errno.ENOTDIR, errno.EEXIST, errno.EISDIR):
        return f"{where.strip()} is not the kind of file or folder it should be; look at NIDDY_HOME"
    return f"{error.strerror or error}{where and ':' + where}"


if __name__ == "__main__":
    main()
