"""Tastings have rounds; a batch may be served under several codes; answers are typed; comments are rows of
their own; panelists are persons across tastings.

What was one tasting becomes a tasting with one round in which each sample was scored. Nobody is merged by
name: the lead is asked.
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0012"
down_revision = "0011"

SETTINGS = '{"attribute": "", "label": "", "ties": false}'
FIXED = """
create trigger comment_append_only before update or delete on comment for each row execute function refuse_change();
create trigger comment_no_truncate before truncate on comment execute function refuse_change();
create trigger spoilt_sample_fixed before update or delete on spoilt_sample for each row execute function refuse_change();
"""


def upgrade() -> None:
    _new_tables()
    op.execute(
        "insert into taste_round (id, tasting_id, position, test, name, part, condition, age_words, attributes,"
        " settings, break_s)"
        f" select gen_random_uuid(), id, 0, 'scored', '', part, '', age_words, '[]', '{SETTINGS}', 0 from tasting"
    )
    _samples()
    op.execute(
        'insert into serving (seat_id, round_id, "order")'
        ' select s.id, r.id, s."order" from seat s join taste_round r on r.tasting_id = s.tasting_id'
    )
    op.drop_column("seat", "order")
    op.add_column("seat", sa.Column("may_quote", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.add_column(
        "seat", sa.Column("allergens_said", postgresql.JSONB(), nullable=False, server_default="{}")
    )
    op.alter_column("seat", "may_quote", server_default=None)
    op.alter_column("seat", "allergens_said", server_default=None)
    _answers()
    op.drop_column("tasting", "part")
    op.drop_column("tasting", "age_words")
    op.add_column("tasting", sa.Column("stopped_at", sa.DateTime(timezone=True), nullable=True))
    for name, kind, default in (
        ("stopped_why", sa.Text(), ""),
        ("one_way", sa.Boolean(), sa.false()),
    ):
        op.add_column("tasting", sa.Column(name, kind, nullable=False, server_default=default))
        op.alter_column("tasting", name, server_default=None)
    op.add_column("attribute", sa.Column("words", postgresql.JSONB(), nullable=False, server_default="[]"))
    op.alter_column("attribute", "words", server_default=None)
    op.add_column("person", sa.Column("allergies", sa.Text(), nullable=False, server_default=""))
    op.alter_column("person", "allergies", server_default=None)
    op.add_column("person", sa.Column("same_as", sa.Uuid(), nullable=True))
    op.create_foreign_key(op.f("fk_person_same_as"), "person", "person", ["same_as"], ["id"])
    op.add_column("person", sa.Column("not_same", postgresql.JSONB(), nullable=False, server_default="[]"))
    op.alter_column("person", "not_same", server_default=None)
    op.execute(FIXED)


def _new_tables() -> None:
    op.create_table(
        "taste_round",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("tasting_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("test", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("part", sa.Text(), nullable=False),
        sa.Column("condition", sa.Text(), nullable=False),
        sa.Column("age_words", sa.Text(), nullable=False),
        sa.Column("attributes", postgresql.JSONB(), nullable=False),
        sa.Column("settings", postgresql.JSONB(), nullable=False),
        sa.Column("break_s", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["tasting_id"], ["tasting.id"], name=op.f("fk_taste_round_tasting_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_taste_round")),
        sa.UniqueConstraint("tasting_id", "position", name=op.f("uq_taste_round_tasting_id_position")),
    )
    op.create_index(op.f("ix_taste_round_tasting_id"), "taste_round", ["tasting_id"])
    op.create_table(
        "serving",
        sa.Column("seat_id", sa.Uuid(), nullable=False),
        sa.Column("round_id", sa.Uuid(), nullable=False),
        sa.Column("order", postgresql.JSONB(), nullable=False),
        sa.ForeignKeyConstraint(
            ["seat_id"], ["seat.id"], name=op.f("fk_serving_seat_id"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["round_id"], ["taste_round.id"], name=op.f("fk_serving_round_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("seat_id", "round_id", name=op.f("pk_serving")),
    )
    op.create_index(op.f("ix_serving_round_id"), "serving", ["round_id"])
    op.create_table(
        "spoilt_sample",
        sa.Column("sample_id", sa.Uuid(), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("why", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["sample_id"], ["sample.id"], name=op.f("fk_spoilt_sample_sample_id"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_spoilt_sample_person_id")),
        sa.PrimaryKeyConstraint("sample_id", name=op.f("pk_spoilt_sample")),
    )
    op.create_table(
        "comment",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("seat_id", sa.Uuid(), nullable=False),
        sa.Column("round_id", sa.Uuid(), nullable=False),
        sa.Column("sample_id", sa.Uuid(), nullable=True),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("given_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["seat_id"], ["seat.id"], name=op.f("fk_comment_seat_id")),
        sa.ForeignKeyConstraint(["round_id"], ["taste_round.id"], name=op.f("fk_comment_round_id")),
        sa.ForeignKeyConstraint(["sample_id"], ["sample.id"], name=op.f("fk_comment_sample_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_comment")),
    )
    op.create_index(op.f("ix_comment_seat_id"), "comment", ["seat_id"])


def _samples() -> None:
    op.execute("alter table sample disable trigger user")
    op.add_column("sample", sa.Column("round_id", sa.Uuid(), nullable=True))
    op.execute("update sample s set round_id = r.id from taste_round r where r.tasting_id = s.tasting_id")
    op.execute("alter table sample enable trigger user")
    op.alter_column("sample", "round_id", nullable=False)
    op.create_foreign_key(
        op.f("fk_sample_round_id"), "sample", "taste_round", ["round_id"], ["id"], ondelete="CASCADE"
    )
    op.create_index(op.f("ix_sample_round_id"), "sample", ["round_id"])
    op.drop_constraint(op.f("uq_sample_tasting_id_batch_id"), "sample", type_="unique")
    op.alter_column("sample", "batch_id", nullable=True)
    for name, default in (("piece", ""), ("state", "fresh"), ("outside", "")):
        op.add_column("sample", sa.Column(name, sa.Text(), nullable=False, server_default=default))
        op.alter_column("sample", name, server_default=None)
    op.create_check_constraint(
        op.f("ck_sample_batch_or_outside"), "sample", "(batch_id is null) = (outside <> '')"
    )
    op.create_check_constraint(
        op.f("ck_sample_state_known"), "sample", "state in ('fresh', 'kept', 'reheated', 'from memory')"
    )


def _answers() -> None:
    op.execute("alter table answer disable trigger user")
    op.execute(
        "insert into comment (id, seat_id, round_id, sample_id, text, given_at)"
        " select a.id, a.seat_id, s.round_id, a.sample_id, a.comment, a.given_at"
        " from answer a join sample s on s.id = a.sample_id where a.attribute_id is null"
    )
    op.execute("delete from answer where attribute_id is null")
    op.add_column("answer", sa.Column("round_id", sa.Uuid(), nullable=True))
    op.add_column("answer", sa.Column("said", postgresql.JSONB(), nullable=True))
    op.add_column("answer", sa.Column("why", sa.Text(), nullable=False, server_default=""))
    op.alter_column("answer", "why", server_default=None)
    op.execute(
        "update answer a set round_id = s.round_id, refused = (a.value is null),"
        " said = case when a.value is null then null"
        " else jsonb_build_object('kind', 'value', 'value', a.value) end"
        " from sample s where s.id = a.sample_id"
    )
    op.execute("alter table answer enable trigger user")
    op.alter_column("answer", "round_id", nullable=False)
    op.alter_column("answer", "sample_id", nullable=True)
    op.create_foreign_key(op.f("fk_answer_round_id"), "answer", "taste_round", ["round_id"], ["id"])
    op.drop_constraint(op.f("ck_answer_refusal_has_no_value"), "answer", type_="check")
    op.drop_column("answer", "value")
    op.drop_column("answer", "comment")
    op.create_check_constraint(op.f("ck_answer_said_or_refused"), "answer", "(said is null) = refused")
