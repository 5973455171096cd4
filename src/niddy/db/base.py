"""The declarative base, its naming convention, and column types shared by the rooms."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, cast

from sqlalchemy import ColumnElement, DateTime, MetaData, Table, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, mapped_column


class Base(DeclarativeBase):
    """Every table of Niddy."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(column_0_label)s",
            "uq": "uq_%(table_name)s_%(column_0_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {dict[str, Any]: JSONB(none_as_null=True), datetime: DateTime(timezone=True)}


Id = Annotated[int, mapped_column(primary_key=True)]


def table_of(entity: type[Base]) -> Table:
    """The table of an entity alone: of a room's own columns, without those of its job."""
    return cast(Table, entity.__table__)


ACCENTED, BARE = "àáâãäåāçčèéêëēěìíîïīñňòóôõöøōřšùúûüūůýÿžł", "aaaaaaacceeeeeeiiiiinnooooooorsuuuuuuyyzl"


def plain(text: ColumnElement[str] | Any) -> ColumnElement[str]:
    """A text of the record in small letters without accents, as `core.names` folds what is looked for."""
    return func.translate(func.lower(text), ACCENTED, BARE)
