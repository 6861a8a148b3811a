"""The tables."""

from datetime import UTC, datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import JSON, Enum, ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.dialects.mysql import DATETIME, MEDIUMBLOB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

Timestamp = DATETIME(fsp=6)


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
    """`coming`: it takes the first reference's place as soon as it is whole; `former`: it had that place, and undo
    gives it back."""

    REFERENCE = "reference"
    TAKE = "take"
    COMING = "coming"
    FORMER = "former"


class JobStep(StrEnum):
    """What is done with a clip, in this order."""

    ASSEMBLE = "assemble"
    GLANCE = "glance"
    PREPARE = "prepare"
    TRACK = "track"
    PLACE = "place"
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
    made_at: Mapped[datetime] = mapped_column(Timestamp, default=now)
    demo: Mapped[str | None] = mapped_column(String(40), unique=True)
    clips: Mapped[list["Clip"]] = relationship(
        back_populates="routine", cascade="all, delete-orphan", order_by="(Clip.role, Clip.number)"
    )
    pieces: Mapped[list["PieceRow"]] = relationship(cascade="all, delete-orphan", order_by="PieceRow.row_id")
    edits: Mapped[list["Edit"]] = relationship(cascade="all, delete-orphan", order_by="Edit.number")


class Edit(Base):
    """One state of a routine's sheet, of its first reference and of where the counts lie in it; undo goes back to the
    one before."""

    __tablename__ = "edit"
    routine_id: Mapped[int] = mapped_column(ForeignKey("routine.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    sheet: Mapped[dict[str, Any]] = mapped_column(JSON)
    grid: Mapped[dict[str, Any] | None] = mapped_column(OptionalJson)
    reference_id: Mapped[int | None] = mapped_column(ForeignKey("clip.id", ondelete="SET NULL"))
    made_at: Mapped[datetime] = mapped_column(Timestamp, default=now)


class PieceRow(Base):
    """Where one row of the sheet, by its id, is danced in a clip: seconds of its 1 and of the 1 after it. `flipped`:
    there the picture has to be turned over, left for right, to be like the others."""

    __tablename__ = "piece"
    routine_id: Mapped[int] = mapped_column(ForeignKey("routine.id", ondelete="CASCADE"), primary_key=True)
    row_id: Mapped[str] = mapped_column(String(24), primary_key=True)
    clip_id: Mapped[int] = mapped_column(ForeignKey("clip.id", ondelete="CASCADE"))
    first_s: Mapped[float]
    next_s: Mapped[float]
    flipped: Mapped[bool]


class Clip(Base):
    """A recording of a routine. Takes count from 1; of the references the one with `number` 0 carries the edits' grid,
    the others lie beside it. One that is to be the first keeps in `grid` where the counts will lie, if that is known.

    `stretches` is what a long clip was found to hold, `run` the seconds from and to which it is used (None: all of it),
    `parts` what a clip was put together from.
    `clicks` say who is followed: x, y as shares of the picture, and seconds (None: whom the estimator takes).
    Two things that a person may say: the picture is `flipped`, as selfie cameras do; the dancer is `mirrored`, left for
    right, on purpose. `small`: a take is danced with small movements on purpose. `grid` is what a person said of where
    the counts lie, `placed` what was found beside the first reference. `against_id` is the reference that a take is to
    be compared with (None: the one seen from the nearest angle).
    """

    __tablename__ = "clip"
    __table_args__ = (UniqueConstraint("routine_id", "role", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    routine_id: Mapped[int] = mapped_column(ForeignKey("routine.id", ondelete="CASCADE"))
    role: Mapped[Role] = mapped_column(_word(Role))
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
    small: Mapped[bool] = mapped_column(default=False)
    parts: Mapped[list[dict[str, Any]] | None] = mapped_column(OptionalJson)
    placed: Mapped[dict[str, Any] | None] = mapped_column(OptionalJson)
    against_id: Mapped[int | None] = mapped_column(ForeignKey("clip.id", ondelete="SET NULL"))
    made_at: Mapped[datetime] = mapped_column(Timestamp, default=now)
    routine: Mapped[Routine] = relationship(back_populates="clips")
    # with the clips, in one question for all of them
    jobs: Mapped[list["Job"]] = relationship(cascade="all, delete-orphan", order_by="Job.id", lazy="selectin")
    comparisons: Mapped[list["ComparisonRow"]] = relationship(
        cascade="all, delete-orphan", foreign_keys="ComparisonRow.clip_id", order_by="ComparisonRow.id"
    )

    @property
    def is_first(self) -> bool:
        """Whether the sheet's counts are placed on it."""
        return self.role is Role.REFERENCE and self.number == 0


class Job(Base):
    """One step of one clip; `worker` and `heartbeat_at` tell whether whoever took it still lives."""

    __tablename__ = "job"
    id: Mapped[int] = mapped_column(primary_key=True)
    clip_id: Mapped[int] = mapped_column(ForeignKey("clip.id", ondelete="CASCADE"))
    step: Mapped[JobStep] = mapped_column(_word(JobStep))
    state: Mapped[JobState] = mapped_column(_word(JobState), default=JobState.QUEUED)
    done: Mapped[int] = mapped_column(default=0)
    total: Mapped[int] = mapped_column(default=0)
    error: Mapped[str | None] = mapped_column(Text)
    worker: Mapped[str | None] = mapped_column(String(64))
    made_at: Mapped[datetime] = mapped_column(Timestamp, default=now)
    started_at: Mapped[datetime | None] = mapped_column(Timestamp)
    heartbeat_at: Mapped[datetime | None] = mapped_column(Timestamp)


class ComparisonRow(Base):
    """What came of a take beside a reference, by the routine's edit `edit` and by the method's `version`; `inputs` is
    the fingerprint of everything that it was made from. Older ones stay."""

    __tablename__ = "comparison"
    __table_args__ = (UniqueConstraint("clip_id", "inputs"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    clip_id: Mapped[int] = mapped_column(ForeignKey("clip.id", ondelete="CASCADE"))
    reference_id: Mapped[int | None] = mapped_column(ForeignKey("clip.id", ondelete="SET NULL"))
    edit: Mapped[int]
    version: Mapped[int]
    inputs: Mapped[str] = mapped_column(String(64))
    result: Mapped[bytes] = mapped_column(MEDIUMBLOB, deferred=True)
    made_at: Mapped[datetime] = mapped_column(Timestamp, default=now)
