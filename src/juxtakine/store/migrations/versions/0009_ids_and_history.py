"""Rows of sheets have ids, by which their pieces are kept; comparisons stay beside the newer ones, as data."""

import json
from secrets import token_hex
from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME, MEDIUMBLOB, MEDIUMTEXT

revision = "0009"
down_revision = "0008"

Row = dict[str, Any]


def upgrade() -> None:
    sheets = _with_ids()
    # what was kept of comparisons were sentences: all are made anew when the application starts
    op.drop_table("comparison")
    op.create_table(
        "comparison",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("clip_id", sa.Integer(), nullable=False),
        sa.Column("reference_id", sa.Integer(), nullable=True),
        sa.Column("edit", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("inputs", sa.String(64), nullable=False),
        sa.Column("result", MEDIUMBLOB(), nullable=False),
        sa.Column("made_at", DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["clip_id"], ["clip.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["reference_id"], ["clip.id"], "comparison_reference", ondelete="SET NULL"),
        sa.UniqueConstraint("clip_id", "inputs"),
    )
    pieces = _read("SELECT routine_id, phrase, clip_id, first_s, next_s, flipped FROM piece")
    op.drop_table("piece")
    _make_piece(sa.Column("row_id", sa.String(24), primary_key=True))
    for routine_id, number, *rest in pieces:
        sheet = sheets.get(routine_id, {})
        rows = sheet.get("phrases", [])
        # which row is which of an order that repeats them is not known here
        if not sheet.get("order", "").strip() and number <= len(rows):
            _insert_piece("row_id", routine_id, rows[number - 1]["id"], *rest)


def _with_ids() -> dict[int, Row]:
    """Every state of every sheet gets them, a row the same as in the state before; the states that hold now, by
    routine."""
    connection, holds = op.get_bind(), dict(_read("SELECT id, edit FROM routine"))
    before: dict[int, list[Row]] = {}
    now: dict[int, Row] = {}
    for routine_id, number, text in _read("SELECT routine_id, number, sheet FROM edit ORDER BY routine_id, number"):
        sheet: Row = json.loads(text) if isinstance(text, str | bytes) else text
        rows = sheet.get("phrases", [])
        _identify(rows, before.get(routine_id, []))
        before[routine_id] = rows
        if holds[routine_id] == number:
            now[routine_id] = sheet
        connection.execute(
            sa.text("UPDATE edit SET sheet = :sheet WHERE routine_id = :routine AND number = :number"),
            {"sheet": json.dumps(sheet), "routine": routine_id, "number": number},
        )
    return now


def _identify(rows: list[Row], before: list[Row]) -> None:
    """As the row with the same line and name in the state before, or else as the one in the same place."""
    free = {r["id"]: (r["name"], r["line"]) for r in before}
    for row in rows:
        row["id"] = next((i for i, said in free.items() if said == (row["name"], row["line"])), "")
        free.pop(row["id"], None)
    for row, was in zip(rows, before, strict=False):
        if not row["id"] and was["id"] in free:
            row["id"] = was["id"]
            free.pop(was["id"])
    for row in rows:
        row["id"] = row["id"] or token_hex(4)


def downgrade() -> None:
    op.drop_table("comparison")
    op.create_table(
        "comparison",
        sa.Column("clip_id", sa.Integer(), primary_key=True),
        sa.Column("reference_id", sa.Integer(), nullable=True),
        sa.Column("inputs", sa.String(64), nullable=False),
        sa.Column("result", MEDIUMTEXT(), nullable=False),
        sa.Column("made_at", DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["clip_id"], ["clip.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["reference_id"], ["clip.id"], "comparison_reference", ondelete="SET NULL"),
    )
    op.drop_table("piece")
    _make_piece(sa.Column("phrase", sa.Integer(), primary_key=True, autoincrement=False))


def _make_piece(of: sa.Column[Any]) -> None:
    op.create_table(
        "piece",
        sa.Column("routine_id", sa.Integer(), primary_key=True, autoincrement=False),
        of,
        sa.Column("clip_id", sa.Integer(), nullable=False),
        sa.Column("first_s", sa.Double(), nullable=False),
        sa.Column("next_s", sa.Double(), nullable=False),
        sa.Column("flipped", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["routine_id"], ["routine.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["clip_id"], ["clip.id"], ondelete="CASCADE"),
    )


def _insert_piece(of: str, *values: object) -> None:
    names = ("routine_id", of, "clip_id", "first_s", "next_s", "flipped")
    marks = ", ".join(f":{n}" for n in names)
    op.get_bind().execute(
        sa.text(f"INSERT INTO piece ({', '.join(names)}) VALUES ({marks})"), dict(zip(names, values, strict=True))
    )


def _read(query: str) -> list[Any]:
    return [tuple(row) for row in op.get_bind().execute(sa.text(query))]
