"""One recorder for the log of every craft: held, known before, checked, told what it comes to, written, followed up."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from typing import Any, Generic, Protocol, TypeVar, get_args
from uuid import UUID

from pydantic import TypeAdapter
from sqlalchemy.orm import Session

from niddy.core.acting import Act, Logged, Note, PhotoAsked, payload_of
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.studio import log, photos, undoing
from niddy.studio.errors import Missing
from niddy.studio.log import STRIKE, Entry
from niddy.studio.times import EARLIEST, act_time

PHOTO = "photo"
"""The kind of an act that keeps a picture, in every room: it comes by an address of its own."""


class Job(Protocol):
    """What the recorder has to know of a job, however its room keeps it."""

    @property
    def job_id(self) -> int: ...
    @property
    def last_seq(self) -> int: ...
    @property
    def status(self) -> Status | str: ...


class Draw(Protocol):
    """What an act takes out of stock or off the shelf; it goes back when the act is undone."""

    def take(self, session: Session, now: datetime, act_id: UUID, job_id: int) -> None:
        """Take it, by an act in a job."""

    def give_back(self, session: Session, now: datetime, act_id: UUID, job_id: int, taken_by: UUID) -> None:
        """Give back what an act took, by the act that undoes it."""


J = TypeVar("J", bound=Job)
A = TypeVar("A", bound=Act)
F = TypeVar("F")


def _nothing(*_: Any) -> Any:
    return ()


def _as_named(_: Iterable[Entry], act: Act) -> UUID | None:
    strikes: UUID | None = getattr(act, "strikes", None)
    return strikes


def _any_time(_: Job) -> datetime:
    return EARLIEST


def _as_kept(_: str, payload: dict[str, Any]) -> dict[str, Any]:
    return payload


@dataclass(frozen=True)
class Acts(Generic[A, F]):
    """The acts of a room: the union of their types, what the record adds to one (a dataclass that is empty where it
    adds nothing), and what makes a payload of today of one kept long ago.
    """

    union: Any
    facts_are: type[F]
    upgrade: Callable[[str, dict[str, Any]], dict[str, Any]] = _as_kept

    @cached_property
    def _acts(self) -> TypeAdapter[A]:
        return TypeAdapter(self.union)

    @cached_property
    def _facts(self) -> TypeAdapter[F]:
        return TypeAdapter(self.facts_are)

    @cached_property
    def has_photos(self) -> bool:
        """Whether pictures are kept in its logs."""
        kinds = (get_args(act.model_fields["kind"].annotation) for act in get_args(get_args(self.union)[0]))
        return any(PHOTO in kind for kind in kinds)

    def act_of(self, document: dict[str, Any]) -> A:
        """An act from its fields by name. Raises pydantic's ValidationError."""
        return self._acts.validate_python(document)

    def logged(self, entry: Entry) -> Logged[A, F]:
        """An entry of a log as its fold reads it."""
        kept = self.upgrade(entry.kind, entry.payload)
        said = {**kept, "id": entry.id, "kind": entry.kind, "made_at": entry.made_at}
        if entry.kind == STRIKE and entry.strikes is not None:
            said["strikes"] = entry.strikes
        return Logged(entry.id, entry.seq, self.act_of(said), self._facts.validate_python(entry.facts), entry.strikes)

    def facts_doc(self, facts: F) -> dict[str, Any]:
        """Facts as they are kept beside an act."""
        doc: dict[str, Any] = self._facts.dump_python(facts, mode="json", exclude_defaults=True)
        return doc


@dataclass(frozen=True)
class LogRoom(Generic[J, A, F]):
    """What a room says of its jobs and their logs; all else the recorder does alike for every one.

    `name` is the room's in the log, `noun` what one of its jobs is called, `acts` what can happen to one.

    `job` reads a job by its number (raises Missing); `grown` is the job with one entry more, before that is written,
    and `written` what else is kept of it (the snapshot a job is read from, where its room has one).

    `check` and `check_undo` refuse what cannot be; `facts` finds what only the studio knows of an act; `undoes` finds
    what an act takes back; `draws` is what an act took; `words` tells one; `since` is the earliest an act can have been
    made; `first` holds what is held before a job; `follow` does what follows once the act is in, and says what the job
    is then.
    """

    name: str
    noun: str
    acts: Acts[A, F]
    job: Callable[[Session, int], J]
    grown: Callable[[Session, J, Entry], J]
    words: Callable[[J, Logged[A, F]], str]
    check: Callable[[J, A], object] = _nothing
    check_undo: Callable[[J, Logged[A, F]], object] = _nothing
    facts: Callable[[Session, datetime, J, A], F] | None = None
    undoes: Callable[[Iterable[Entry], A], UUID | None] = _as_named
    draws: Callable[[J, Logged[A, F]], Iterable[Draw]] = _nothing
    since: Callable[[J], datetime] = _any_time
    written: Callable[[J], Any] | None = None
    first: Callable[[Session, int], object] = _nothing
    follow: Callable[[Session, datetime, J, A], J | None] | None = None

    def job_of(self, session: Session, number: int) -> int:
        """The id of a job by its number. Raises Missing."""
        found = log.find(session, self.name, number)
        if found is None:
            raise Missing(self.noun, number)
        return found

    def can_undo(self, job: J, entry: Entry, logged: Logged[A, F]) -> bool:
        """Whether an act may be undone: it is not yet, and nothing stands on it."""
        if entry.struck:
            return False
        try:
            self.check_undo(job, logged)
        except Refused:
            return False
        return True


@dataclass(frozen=True, slots=True)
class LogLine:
    """One line of a log: an act in words, whether it was undone or may be, and whether it is a picture."""

    id: UUID
    seq: int
    kind: str
    at: datetime
    text: str
    struck: bool
    can_strike: bool
    photo: bool
    srgb: str | None = None


def log_lines(room: LogRoom[J, A, F], job: J, entries: Iterable[Entry]) -> tuple[LogLine, ...]:
    """A log in words, in its order."""
    acts = {entry.id: room.acts.logged(entry) for entry in entries}

    def words(logged: Logged[A, F]) -> str:
        if logged.act.kind != STRIKE:
            return room.words(job, logged)
        undone = acts.get(logged.strikes) if logged.strikes is not None else None
        if undone is None:
            return "undone"
        if undone.act.kind != STRIKE:
            return f"undone: {words(undone)}"
        back = acts.get(undone.strikes) if undone.strikes is not None else None
        return f"put back: {words(back)}" if back is not None else "put back"

    return tuple(
        LogLine(
            entry.id,
            entry.seq,
            entry.kind,
            entry.made_at,
            words(acts[entry.id]),
            entry.struck,
            room.can_undo(job, entry, acts[entry.id]),
            entry.kind == PHOTO,
            getattr(acts[entry.id].act, "srgb", None),
        )
        for entry in entries
    )


def record(
    session: Session, now: datetime, room: LogRoom[J, A, F], number: int, act: A, also: dict[str, Any] | None = None
) -> J:
    """Log an act; the job after it. `also` goes with its facts. Sent again it changes nothing.

    Raises Refused, Conflict, Missing.
    """
    job, known = _held(session, room, number, act)
    if known:
        return job
    if act.kind == PHOTO:
        raise Refused("kind", "a picture comes by its own address", "the picture itself, to the photos of this job")
    return _log(session, now, room, job, act, also or {})


def take_photo(
    session: Session, now: datetime, room: LogRoom[J, A, F], number: int, asked: PhotoAsked, picture: bytes
) -> J:
    """Keep a picture, scaled down, and log it. Sent again it changes nothing.

    Raises Refused for what is no picture or has too many pixels, Missing, Conflict.
    """
    scaled = photos.scaled(picture)
    said = asked.model_dump(include={"id", "made_at", "clock_made_at"})
    words = {"text": asked.text} if asked.text else {}
    act = room.acts.act_of({**said, **words, "kind": PHOTO})
    job, known = _held(session, room, number, act)
    if known:
        return job
    after = _log(session, now, room, job, act, {})
    photos.keep(session, act.id, scaled)
    return after


def _held(session: Session, room: LogRoom[J, A, F], number: int, act: A) -> tuple[J, bool]:
    """A job, held until the transaction ends, and whether it has this very act already. Raises Conflict, Missing."""
    room.first(session, number)
    job_id = log.hold_of(session, room.name, number)
    # What is read of a job is read once it is held: who waited would else decide by what was there before.
    job = room.job(session, number)
    assert job_id == job.job_id
    return job, log.known(session, job_id, act.id, act.kind, payload_of(act))


def _log(session: Session, now: datetime, room: LogRoom[J, A, F], job: J, act: A, also: dict[str, Any]) -> J:
    act_time("made_at", act.made_at, now, room.since(job))
    if isinstance(act, Note) and not act.text.strip():
        raise Refused("text", "empty", "a few words")
    undone, strikes, facts = None, None, dict(also)
    entries: dict[UUID, Entry] = {}
    if act.kind == STRIKE:
        entries = {entry.id: entry for entry in log.entries(session, job.job_id)}
        strikes = room.undoes(entries.values(), act)
        if strikes is not None:
            undone = undoing.undone_by(entries.values(), strikes)
            room.check_undo(job, room.acts.logged(undone))
    else:
        room.check(job, act)
        if room.facts is not None:
            facts = {**room.acts.facts_doc(room.facts(session, now, job, act)), **also}
    entry = Entry(act.id, job.last_seq + 1, act.kind, payload_of(act), facts, strikes, act.made_at)
    after = room.grown(session, job, entry)
    if undone is None:
        for draw in room.draws(job, room.acts.logged(entry)):
            draw.take(session, now, act.id, job.job_id)
    else:
        _give_back(session, now, room, job, act.id, undone, entries)
    log.append(
        session,
        now,
        job.job_id,
        log.New(entry.id, entry.kind, entry.made_at, entry.payload, entry.facts, strikes),
        entry.seq,
        status=Status(after.status),
        state=room.written(after) if room.written is not None else None,
    )
    if room.follow is None:
        return after
    return room.follow(session, now, after, act) or after


def _give_back(
    session: Session,
    now: datetime,
    room: LogRoom[J, A, F],
    job: J,
    act_id: UUID,
    undone: Entry,
    entries: Mapping[UUID, Entry],
) -> None:
    """Give back what an act drew that is undone; where it undid another itself, that one's is drawn once more."""
    back = undone.strikes is None
    moved = undone if undone.strikes is None else entries[undone.strikes]
    for draw in room.draws(job, room.acts.logged(moved)):
        if back:
            draw.give_back(session, now, act_id, job.job_id, moved.id)
        else:
            draw.take(session, now, act_id, job.job_id)
