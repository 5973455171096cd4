"""Processes as they are kept: one version of one, and what it says."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.making import Process
from niddy.db.making import MakingProcess, MakingProcessVersion
from niddy.studio.errors import Missing
from niddy.studio.making.asked import ProcessSaid


def version_of(session: Session, process_id: int, version: int | None) -> MakingProcessVersion:
    """A version of a process, the newest where none is named. Raises Missing."""
    wanted = select(MakingProcessVersion).where(MakingProcessVersion.process_id == process_id)
    if version is not None:
        wanted = wanted.where(MakingProcessVersion.version == version)
    row = session.scalar(wanted.order_by(MakingProcessVersion.version.desc()).limit(1))
    if row is None:
        if version is None:
            raise Missing("process", process_id)
        raise Missing("version", version, "version")
    return row


def process_of(row: MakingProcess, version: MakingProcessVersion) -> Process:
    """A process as one of its versions says it."""
    return ProcessSaid.model_validate(version.said).process(row.name)
