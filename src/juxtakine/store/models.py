"""The tables."""

from datetime import UTC, datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import JSON, Enum, ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.dialects.mysql import DATETIME, MEDIUMTEXT
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

Moment = DATETIME(fsp=6)


OptionalJson = JSON(none_as_null=True)


def _word(kind: type[StrEnum]) -> Enum:
    """A column that holds one of an enum's words."""
    return Enum(kind, native_enum=False, length=16, values_callable=lambda e: [m.value for m in e])


def now() -> datetime:
    """UTC without a zone, as MariaDB keeps it."""
    return datetime.now(UTC).replace(tzinfo=None)


class Base(DeclarativeBase):
    pass


class Role(StrEnum):
    REFERENCE = "reference"
    TAKE = "take"


class Step(StrEnum):
    """What is done with a clip, in this order."""

    PREPARE = "prepare"
    GLANCE = "glance"
    TRACK = "track"
    COMPARE = "compare"


class JobState(StrEnum):
    QUEUED = "queued"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"

    @property
    def live(self) -> bool:
        return self in (JobState.QUEUED, JobState.RUNNING)


class Routine(Base):
    """A routine; `edit` is the number of the edit of its sheet and grid that holds now."""

    __tablename__ = "routine"
    id: Mapped[int] = mapped_column(primary_key=True)
    edit: Mapped[int] = mapped_column(default=0)
    made_at: Mapped[datetime] = mapped_column(Moment, default=now)
    demo: Mapped[str | None] = mapped_column(String(40), unique=True)
    clips: Mapped[list["Clip"]] = relationship(
        back_populates="routine", cascade="all, delete-orphan", order_by="Clip.number"
    )
    edits: Mapped[list["Edit"]] = relationship(cascade="all, delete-orphan", order_by="Edit.number")


class Edit(Base):
    """One state of a routine's sheet and of the grid of its reference; undo goes back to the one before."""

    __tablename__ = "edit"
    routine_id: Mapped[int] = mapped_column(ForeignKey("routine.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    sheet: Mapped[dict[str, Any]] = mapped_column(JSON)
    grid: Mapped[dict[str, Any] | None] = mapped_column(OptionalJson)
    made_at: Mapped[datetime] = mapped_column(Moment, default=now)


class Clip(Base):
    """A recording of a routine. `number` is 0 for the reference and counts the takes from 1.

    `stretches` is what a long clip was found to hold, `run` the seconds from and to which it is used (None: all of it).
    `clicks` say who is followed: x, y as shares of the picture, and seconds (None: whom the estimator takes).
    Two things that a person may say: the picture is `flipped`, as selfie cameras do; the dancer is `mirrored`, left for
    right, on purpose.
    """

    __tablename__ = "clip"
    __table_args__ = (UniqueConstraint("routine_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    routine_id: Mapped[int] = mapped_column(ForeignKey("routine.id", ondelete="CASCADE"))
    number: Mapped[int]
    name: Mapped[str] = mapped_column(String(255))
    content: Mapped[str] = mapped_column(String(64), index=True)
    start_s: Mapped[float]
    duration_s: Mapped[float]
    width: Mapped[int]
    height: Mapped[int]
    fps: Mapped[float]
    frames: Mapped[int]
    has_sound: Mapped[bool]
    model: Mapped[str] = mapped_column(String(16))
    grid: Mapped[dict[str, Any] | None] = mapped_column(OptionalJson)
    stretches: Mapped[dict[str, Any] | None] = mapped_column(OptionalJson)
    run: Mapped[list[float] | None] = mapped_column(OptionalJson)
    clicks: Mapped[list[list[float]] | None] = mapped_column(OptionalJson)
    flipped: Mapped[bool | None]
    mirrored: Mapped[bool | None]
    made_at: Mapped[datetime] = mapped_column(Moment, default=now)
    routine: Mapped[Routine] = relationship(back_populates="clips")
    jobs: Mapped[list["Job"]] = relationship(cascade="all, delete-orphan", order_by="Job.id")
    comparison: Mapped["ComparisonRow | None"] = relationship(cascade="all, delete-orphan")

    @property
    def role(self) -> Role:
        return Role.TAKE if self.number else Role.REFERENCE


class Job(Base):
    """One step of one clip; `worker` and `heartbeat_at` tell whether whoever took it still lives."""

    __tablename__ = "job"
    id: Mapped[int] = mapped_column(primary_key=True)
    clip_id: Mapped[int] = mapped_column(ForeignKey("clip.id", ondelete="CASCADE"))
    step: Mapped[Step] = mapped_column(_word(Step))
    state: Mapped[JobState] = mapped_column(_word(JobState), default=JobState.QUEUED, index=True)
    done: Mapped[int] = mapped_column(default=0)
    total: Mapped[int] = mapped_column(default=0)
    error: Mapped[str | None] = mapped_column(Text)
    worker: Mapped[str | None] = mapped_column(String(64))
    made_at: Mapped[datetime] = mapped_column(Moment, default=now)
    started_at: Mapped[datetime | None] = mapped_column(Moment)
    heartbeat_at: Mapped[datetime | None] = mapped_column(Moment)


class ComparisonRow(Base):
    """A take's result, and the fingerprint of everything that it was made from."""

    __tablename__ = "comparison"
    clip_id: Mapped[int] = mapped_column(ForeignKey("clip.id", ondelete="CASCADE"), primary_key=True)
    inputs: Mapped[str] = mapped_column(String(64))
    result: Mapped[str] = mapped_column(MEDIUMTEXT)
    made_at: Mapped[datetime] = mapped_column(Moment, default=now)
