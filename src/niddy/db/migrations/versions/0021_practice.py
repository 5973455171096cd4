"""practice: tries at simulated pastes, kept apart; whose eye the real slab may use."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None

ROOMS = "'slab', 'rubout', 'additives', 'gels', 'shelf', 'checks', 'sticks', 'bases', 'cans', 'dishes', 'runs'"


def _rooms(says: str) -> None:
    op.drop_constraint(op.f("ck_job_room"), "job")
    op.create_check_constraint(op.f("ck_job_room"), "job", f"room in ({says})")


def upgrade() -> None:
    _rooms(f"{ROOMS}, 'practice'")
    op.create_table(
        "practice_try",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=False),
        sa.Column("exercise", sa.String(), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("maker", sa.String(), server_default="", nullable=False),
        sa.Column("advised", sa.Boolean(), server_default="false", nullable=False),
        sa.Column("ahead_s", sa.Double(), server_default="0", nullable=False),
        sa.Column("score", JSONB(), nullable=True),
        sa.Column("judgements", JSONB(), server_default="[]", nullable=False),
        sa.CheckConstraint("seed between 0 and 999999", name=op.f("ck_practice_try_seed")),
        sa.CheckConstraint("ahead_s >= 0", name=op.f("ck_practice_try_ahead")),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name=op.f("fk_practice_try_job_id_job")),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_practice_try")),
        sa.UniqueConstraint("job_id", name=op.f("uq_practice_try_job_id")),
    )
    op.create_index("ix_practice_try_maker", "practice_try", ["maker", "exercise"])
    op.add_column("studio_settings", sa.Column("eye_maker", sa.String(), nullable=True))
    for name in ("eye_bias", "eye_bias_sd", "eye_sd"):
        op.add_column("studio_settings", sa.Column(name, sa.Double(), nullable=True))
    op.create_check_constraint(
        op.f("ck_studio_settings_eye"),
        "studio_settings",
        "num_nonnulls(eye_maker, eye_bias, eye_bias_sd, eye_sd) in (0, 4)",
    )


def downgrade() -> None:
    op.drop_constraint(op.f("ck_studio_settings_eye"), "studio_settings")
    for name in ("eye_sd", "eye_bias_sd", "eye_bias", "eye_maker"):
        op.drop_column("studio_settings", name)
    op.drop_table("practice_try")
    op.execute("delete from act where job_id in (select id from job where room = 'practice')")
    op.execute("delete from job where room = 'practice'")
    _rooms(ROOMS)
